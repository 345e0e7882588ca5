package sharptally.engines.files.dump;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import sharptally.core.shape.TableName;

/** Goes through the words of one statement: names in any quotes, words, and what stands in brackets. */
final class SqlWords {
    private final String text;
    private int at;

    SqlWords(String text) {
        this.text = text;
        blank();
    }

    private void blank() {
        while (at < text.length() && text.charAt(at) <= ' ') {
            at++;
        }
    }

    boolean hasMore() {
        return at < text.length();
    }

    /** What was not gone through. */
    String rest() {
        return text.substring(at);
    }

    /** Passes over these words, letter case aside, if they come next; all of them or none. */
    boolean pass(String... words) {
        int from = at;
        for (String word : words) {
            int end = at + word.length();
            boolean isNext = text.regionMatches(true, at, word, 0, word.length())
                    && (end == text.length() || !isLetter(text.charAt(end)));
            if (!isNext) {
                at = from;
                return false;
            }
            at = end;
            blank();
        }
        return true;
    }

    /** Passes over all up to and with this word where no bracket is open; false, and nothing is passed, where there is none. */
    boolean passTo(String word) {
        int from = at;
        while (hasMore()) {
            if (pass(word)) {
                return true;
            }
            next();
        }
        at = from;
        return false;
    }

    /** Passes over one bracket, text, name, word or sign. */
    private void next() {
        char c = text.charAt(at);
        if (c == '(') {
            bracket();
        } else if (c == '\'' || c == '"' || c == '`') {
            at = behindQuote(text, at);
        } else if (isLetter(c)) {
            while (hasMore() && isLetter(text.charAt(at))) {
                at++;
            }
        } else {
            at++;
        }
        blank();
    }

    private static boolean isLetter(char c) {
        return Character.isLetterOrDigit(c) || c == '_' || c == '$';
    }

    /** A name, without its quotes; empty where none comes next. */
    Optional<String> name() {
        if (!hasMore()) {
            return Optional.empty();
        }
        char c = text.charAt(at);
        int from = at;
        if (c == '"' || c == '`') {
            at = behindQuote(text, at);
            String name = text.substring(from + 1, at - 1).replace("" + c + c, "" + c);
            blank();
            return Optional.of(name);
        }
        while (hasMore() && text.charAt(at) > ' ' && ".,()'\"`;=".indexOf(text.charAt(at)) < 0) {
            at++;
        }
        String name = text.substring(from, at);
        blank();
        return name.isEmpty() ? Optional.empty() : Optional.of(name);
    }

    /** The name of a table, in which the own schema of its database is left away. */
    Optional<TableName> table(Flavour flavour) {
        Optional<String> first = name();
        if (first.isEmpty() || !hasMore() || text.charAt(at) != '.') {
            return first.map(TableName::of);
        }
        at++;
        String schema = first.get();
        return name().map(n -> schema.equals(flavour.ownSchema) ? TableName.of(n) : TableName.of(schema, n));
    }

    /** What stands in the bracket that comes next; empty where none does. */
    Optional<String> bracket() {
        if (!hasMore() || text.charAt(at) != '(') {
            return Optional.empty();
        }
        int from = at + 1;
        int depth = 0;
        while (hasMore()) {
            char c = text.charAt(at);
            if (c == '\'' || c == '"' || c == '`') {
                at = behindQuote(text, at);
                continue;
            }
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            at++;
            if (depth == 0) {
                break;
            }
        }
        String inner = text.substring(from, depth == 0 ? at - 1 : at);
        blank();
        return Optional.of(inner);
    }

    /** Names in the bracket that comes next; of an index, what stands behind each of them is left away. */
    List<String> names() {
        return bracket().map(SqlWords::parts).orElse(List.of()).stream()
                .map(part -> new SqlWords(part).name().orElse(part))
                .toList();
    }

    /** What stands between commas, but for those in brackets and quotes. */
    static List<String> parts(String text) {
        List<String> parts = new ArrayList<>();
        SqlWords words = new SqlWords(text);
        int from = words.at;
        while (words.hasMore()) {
            if (text.charAt(words.at) == ',') {
                parts.add(text.substring(from, words.at).strip());
                words.at++;
                words.blank();
                from = words.at;
            } else {
                words.next();
            }
        }
        parts.add(text.substring(from).strip());
        return parts;
    }

    /** The same text, in which nothing is left of what stands in brackets and quotes but these. */
    static String outline(String text) {
        StringBuilder outline = new StringBuilder();
        SqlWords words = new SqlWords(text);
        outline.append(" ".repeat(words.at));
        while (words.hasMore()) {
            int from = words.at;
            char c = text.charAt(from);
            words.next();
            boolean hidden = c == '(' || c == '\'' || c == '"' || c == '`';
            String passed = text.substring(from, words.at);
            int close = passed.stripTrailing().length();
            outline.append(
                    hidden
                            ? c + "_".repeat(Math.max(0, close - 2)) + passed.substring(Math.max(1, close - 1))
                            : passed);
        }
        return outline.toString().toUpperCase(Locale.ROOT);
    }

    /** Behind the quote that ends what begins here. */
    private static int behindQuote(String text, int from) {
        char quote = text.charAt(from);
        int i = from + 1;
        while (i < text.length()) {
            char c = text.charAt(i);
            if (c == '\\' && quote == '\'') {
                i += 2;
            } else if (c == quote && i + 1 < text.length() && text.charAt(i + 1) == quote) {
                i += 2;
            } else if (c == quote) {
                return i + 1;
            } else {
                i++;
            }
        }
        return text.length();
    }
}
