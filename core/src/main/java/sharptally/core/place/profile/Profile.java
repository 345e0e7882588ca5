package sharptally.core.place.profile;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * How an engine that is reached by "any JDBC driver" wants to be spoken to, where it differs from the standard; the keys of its
 * file are told in {@code docs/profiles.md}. In each piece of SQL, words in braces stand for what changes. Immutable.
 *
 * @param profile its name
 * @param addresses what may stand behind {@code jdbc:}, such as {@code snowflake:}
 * @param proof how it was proved, in words
 * @param types kinds by patterns of type names, the first that fits, such as {@code timestamp(6)}
 * @param values how values of a kind are read, ordered and written, by the kind in lower case
 * @param checksums the common form in its SQL; empty where rows are read to be hashed
 * @param joins empty where its tables are not joined
 */
public record Profile(
        String profile,
        List<String> addresses,
        String proof,
        Optional<Session> session,
        Optional<Map<String, String>> types,
        Optional<Map<String, Values>> values,
        Optional<Queries> queries,
        Optional<Checksums> checksums,
        Optional<Joins> joins) {

    private static final String PADDED = "padded text";

    /** The SQL standard, and what the driver says. */
    public static final Profile STANDARD = new Profile(
            "",
            List.of(),
            "",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());

    /**
     * A connection.
     *
     * @param begin statements that are run in a new one
     * @param transactions whether what is changed can be taken back; nothing is changed where not
     * @param oneState whether a transaction sees one state of the database from its begin to its end
     * @param systemSchemas whose tables are the server's own, and are not listed
     */
    public record Session(
            Optional<List<String>> begin,
            Optional<Boolean> transactions,
            Optional<Boolean> oneState,
            Optional<List<String>> systemSchemas) {}

    /**
     * Values of a kind.
     *
     * @param read what is selected for {@code {column}}; a date or time comes as ISO text then
     * @param order what is ordered and compared for {@code {column}}
     * @param found {@code index}, {@code scan} or {@code never}: how rows are found by ranges in that order
     * @param literal one of {@code {value}}, which is text, or hexadecimal digits of bytes
     * @param hashed the text of {@code {column}} in the common form; of a time with all its digits
     */
    public record Values(
            Optional<String> read,
            Optional<String> order,
            Optional<String> found,
            Optional<String> literal,
            Optional<String> hashed) {
        static final Values PLAIN =
                new Values(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /**
     * Statements.
     *
     * @param quote the letter around names; twice within
     * @param escapes what stands for letters within a text, beside the quote
     * @param limited {@code {query}}, of which {@code {rest}} is all but its first word, with {@code {rows}} rows behind
     *     {@code {skipped}} others
     * @param nullsFirst what is written behind a term of ORDER BY
     * @param numbersRows whether it knows ROW_NUMBER
     * @param same the condition that {@code {one}} and {@code {other}} are equal or both NULL
     * @param remainder of {@code {number}} by {@code {divisor}}
     * @param totals aggregates by the names of their keys
     * @param script what stands around changes
     */
    public record Queries(
            Optional<String> quote,
            Optional<Map<String, String>> escapes,
            Optional<String> limited,
            Optional<String> nullsFirst,
            Optional<Boolean> numbersRows,
            Optional<String> same,
            Optional<String> remainder,
            Optional<Totals> totals,
            Optional<Script> script) {
        static final Queries PLAIN = new Queries(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    /**
     * Aggregates of {@code {column}}.
     *
     * @param textOrdered whether MIN and MAX of a text go by its bytes in UTF-8
     */
    public record Totals(
            Optional<String> wholeSum,
            Optional<String> decimalSum,
            Optional<String> floatingSum,
            Optional<Boolean> textOrdered,
            Optional<String> textLength,
            Optional<String> bytesLength) {
        static final Totals PLAIN = new Totals(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    /**
     * A script.
     *
     * @param begin its first statements
     * @param end its last ones
     * @param run how a person runs {@code FILE}
     * @param together {@code merge} or {@code from}: how many rows are changed at once
     */
    public record Script(
            Optional<List<String>> begin, Optional<List<String>> end, Optional<String> run, Optional<String> together) {
        static final Script PLAIN = new Script(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /**
     * Checksums in the common form.
     *
     * @param hash a number of 64 bits with sign: the first eight bytes of the MD5 of {@code {record}}, the highest first
     * @param field what stands for {@code {field}}, which may be NULL
     * @param between what stands between fields
     * @param sum the exact sum of {@code {hash}}
     * @param slice {@code {number}} divided by {@code {step}}, cut towards zero
     * @param masked the lowest bits of {@code {hash}}: what is left of it by {@code {shares}}, or with {@code {mask}}
     * @param proved whether it is used; until {@code survey --probe} said that it is exact, it had better not be
     */
    public record Checksums(
            String hash, String field, String between, String sum, String slice, String masked, boolean proved) {}

    /**
     * Joins of two tables of one server.
     *
     * @param instance a query whose one value names what can be joined
     * @param full whether it knows full joins
     * @param distinct the condition that {@code {one}} and {@code {other}} are distinct
     * @param same the condition that two texts have the same bytes
     * @param proved whether it is used, as with {@link Checksums}
     */
    public record Joins(String instance, boolean full, String distinct, String same, boolean proved) {}

    /** Whether a URL, without {@code jdbc:}, is of this engine. */
    public boolean takes(String url) {
        return addresses.stream().anyMatch(url::startsWith);
    }

    public Values of(Kind kind) {
        return values.map(all -> all.getOrDefault(kind.name().toLowerCase(Locale.ROOT), Values.PLAIN))
                .orElse(Values.PLAIN);
    }

    /** The same, told apart by whether padding counts. */
    public Values of(CanonicalType type) {
        return type.padded()
                ? values.map(all -> all.getOrDefault(PADDED, Values.PLAIN)).orElse(Values.PLAIN)
                : of(type.kind());
    }

    public Queries statements() {
        return queries.orElse(Queries.PLAIN);
    }

    public Script script() {
        return statements().script().orElse(Script.PLAIN);
    }

    public Totals totals() {
        return statements().totals().orElse(Totals.PLAIN);
    }

    /** Statements of a new connection. */
    public List<String> begin() {
        return session.flatMap(Session::begin).orElse(List.of());
    }

    public boolean hasTransactions() {
        return session.flatMap(Session::transactions).orElse(true);
    }

    /** Whether a schema's tables are the server's own. */
    public boolean hides(String schema) {
        return session.flatMap(Session::systemSchemas).orElse(List.of()).contains(schema);
    }

    public boolean keepsOneState() {
        return session.flatMap(Session::oneState).orElse(false);
    }

    public String quoted(String name) {
        String quote = statements().quote().orElse("\"");
        return quote + name.replace(quote, quote + quote) + quote;
    }

    /** The type that a name says; empty where the driver's word counts. */
    public Optional<CanonicalType> type(String name) {
        return types.orElse(Map.of()).entrySet().stream()
                .filter(type -> Pattern.compile(type.getKey(), Pattern.CASE_INSENSITIVE)
                        .matcher(name)
                        .matches())
                .findFirst()
                .map(type -> canonical(type.getValue()))
                .map(type -> type.kind() == Kind.OTHER ? CanonicalType.other(profile, name) : type);
    }

    /** A kind as it stands in a file: {@code integer}, {@code padded text}, {@code timestamp(6)}. */
    public static CanonicalType canonical(String words) {
        if (words.equals(PADDED)) {
            return CanonicalType.paddedText();
        }
        int bracket = words.indexOf('(');
        Kind kind = Kind.valueOf((bracket < 0 ? words : words.substring(0, bracket)).toUpperCase(Locale.ROOT));
        return bracket < 0
                ? CanonicalType.of(kind)
                : CanonicalType.time(kind, Integer.parseInt(words.substring(bracket + 1, words.length() - 1)));
    }

    /**
     * A piece of SQL with words in braces filled in.
     *
     * @param words a word and what stands for it, in turn
     */
    public static String filled(String template, String... words) {
        StringBuilder out = new StringBuilder();
        int at = 0;
        while (at < template.length()) {
            int next = at;
            for (int i = 0; i < words.length && next == at; i += 2) {
                String word = "{" + words[i] + "}";
                if (template.startsWith(word, at)) {
                    out.append(words[i + 1]);
                    next = at + word.length();
                }
            }
            if (next == at) {
                out.append(template.charAt(at));
                next++;
            }
            at = next;
        }
        return out.toString();
    }
}
