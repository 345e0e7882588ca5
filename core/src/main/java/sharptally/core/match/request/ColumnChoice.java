package sharptally.core.match.request;

import java.util.Locale;
import sharptally.core.match.text.Glob;
import sharptally.core.shape.ColumnShape;

/** Columns by name, with wildcards, or by type: {@code type:json} for a kind of value or a declared type. */
public record ColumnChoice(String text) {
    private static final String TYPE = "type:";

    /** Whether the column is one of them. */
    public boolean includes(ColumnShape column) {
        if (!text.startsWith(TYPE)) {
            return new Glob(text).matches(column.name());
        }
        Glob type = new Glob(text.substring(TYPE.length()).strip());
        String declared = column.declaredType().toLowerCase(Locale.ROOT);
        return column.type().filter(t -> type.matches(t.kind().name())).isPresent()
                || type.matches(declared)
                || type.matches(declared.replaceAll("\\s*\\(.*", ""));
    }

    /** Whether it names one column, so that a table without it is a mistake. */
    public boolean isAboutOne() {
        return !text.startsWith(TYPE) && !new Glob(text).hasWildcard();
    }
}
