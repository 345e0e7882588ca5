package sharptally.core.match.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.TableName;

/**
 * A name in which every {@code *} stands for any letters, and is remembered, but for {@code \\*}, which is a star; letter
 * case carries no meaning.
 */
public record Glob(String text) {
    private static final Pattern ESCAPED = Pattern.compile("\\\\\\*");
    private static final Pattern WILDCARD = Pattern.compile("(?<!\\\\)\\*");

    /** A name as a glob that stands for it alone. */
    public static String escaped(String name) {
        return name.replace("*", "\\*");
    }

    /** Whether there is a {@code *} in it that stands for any letters. */
    public boolean hasWildcard() {
        return WILDCARD.matcher(text).find();
    }

    /** The one name that it stands for, where it has no wildcard. */
    public String literal() {
        return ESCAPED.matcher(text).replaceAll("*");
    }

    /** Whether the whole name is of this form. */
    public boolean matches(String name) {
        return captures(name).isPresent();
    }

    /** What each {@code *} stands for in a name, from left to right; empty when the name is not of this form. */
    public Optional<List<String>> captures(String name) {
        StringBuilder expression = new StringBuilder();
        int done = 0;
        for (Matcher star = WILDCARD.matcher(text); star.find(); done = star.end()) {
            expression
                    .append(Pattern.quote(new Glob(text.substring(done, star.start())).literal()))
                    .append("(.*)");
        }
        expression.append(Pattern.quote(new Glob(text.substring(done)).literal()));
        Matcher matcher = Pattern.compile(
                        expression.toString(), Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE | Pattern.DOTALL)
                .matcher(name);
        if (!matcher.matches()) {
            return Optional.empty();
        }
        List<String> captures = new ArrayList<>();
        for (int i = 1; i <= matcher.groupCount(); i++) {
            captures.add(matcher.group(i));
        }
        return Optional.of(captures);
    }

    /**
     * As {@link #captures(String)} of a table's name; with a dot, of its schema and name.
     *
     * @param ownSchema the schema whose tables go by their bare names
     */
    public Optional<List<String>> captures(TableName table, String ownSchema) {
        return captures(text.indexOf('.') >= 0 ? table.schema().orElse(ownSchema) + "." + table.name() : table.name());
    }

    /** The name that comes of putting captures in place of each {@code *}; those that are left over stand for nothing. */
    public String filled(List<String> captures) {
        StringBuilder name = new StringBuilder();
        int next = 0;
        int done = 0;
        for (Matcher star = WILDCARD.matcher(text); star.find(); done = star.end()) {
            name.append(new Glob(text.substring(done, star.start())).literal());
            name.append(next < captures.size() ? captures.get(next++) : "");
        }
        name.append(new Glob(text.substring(done)).literal());
        return name.toString();
    }
}
