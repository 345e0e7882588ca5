package sharptally.core.match;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.TableName;

/** A name in which every {@code *} stands for any letters, and is remembered; letter case carries no meaning. */
public record Glob(String text) {
    /** Whether there is a {@code *} in it at all. */
    public boolean hasWildcard() {
        return text.indexOf('*') >= 0;
    }

    /** Whether the whole name is of this form. */
    public boolean matches(String name) {
        return captures(name).isPresent();
    }

    /** What each {@code *} stands for in a name, from left to right; empty when the name is not of this form. */
    public Optional<List<String>> captures(String name) {
        StringBuilder expression = new StringBuilder();
        String rest = text;
        for (int star = rest.indexOf('*'); star >= 0; star = rest.indexOf('*')) {
            expression.append(Pattern.quote(rest.substring(0, star))).append("(.*)");
            rest = rest.substring(star + 1);
        }
        expression.append(Pattern.quote(rest));
        Matcher matcher = Pattern.compile(expression.toString(), Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE)
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
        for (char c : text.toCharArray()) {
            if (c == '*') {
                name.append(next < captures.size() ? captures.get(next++) : "");
            } else {
                name.append(c);
            }
        }
        return name.toString();
    }
}
