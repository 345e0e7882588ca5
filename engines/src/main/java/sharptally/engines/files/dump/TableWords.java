package sharptally.engines.files.dump;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What statements say of a table: its columns, and which of them are its keys. */
final class TableWords {
    private static final String NAME = "(\"(?:[^\"]|\"\")+\"|`(?:[^`]|``)+`|[^\\s.,()\"`]+)";
    private static final Pattern CREATE =
            Pattern.compile("(?is)CREATE\\s+(?:UNLOGGED\\s+)?TABLE\\s+(?:IF\\s+NOT\\s+EXISTS\\s+)?" + NAME + "(?:\\."
                    + NAME + ")?\\s*\\((.*)\\)[^)]*");
    private static final Pattern ALTER = Pattern.compile("(?is)ALTER\\s+TABLE\\s+(?:ONLY\\s+)?" + NAME + "(?:\\." + NAME
            + ")?\\s+ADD\\s+CONSTRAINT\\s+\\S+\\s+(PRIMARY\\s+KEY|UNIQUE)\\s*\\(([^)]*)\\).*");
    private static final Pattern KEY = Pattern.compile("(?is)(?:CONSTRAINT\\s+" + NAME
            + "\\s+)?(PRIMARY\\s+KEY|UNIQUE(?:\\s+KEY)?)\\s*" + NAME + "?\\s*\\((.*)\\).*");
    private static final Pattern NO_COLUMN =
            Pattern.compile("(?is)(CONSTRAINT|FOREIGN\\s+KEY|CHECK|KEY|INDEX|FULLTEXT|SPATIAL|EXCLUDE|PERIOD)\\b.*");
    private static final Pattern COLUMN = Pattern.compile("(?is)" + NAME + "\\s*(.*)");
    /** Behind the type. */
    private static final Pattern BEHIND = Pattern.compile(
            "(?i)\\b(NOT\\s+NULL|NULL|DEFAULT|COLLATE|GENERATED|PRIMARY|UNIQUE|REFERENCES|CHECK|AUTO_INCREMENT"
                    + "|AUTOINCREMENT|COMMENT|CHARACTER\\s+SET|ON\\s+UPDATE|CONSTRAINT|STORED|VIRTUAL|AS\\s*\\()");

    private static final Pattern BITS = Pattern.compile("(?i)bit\\((\\d{1,2})\\)");
    private static final Pattern BINARY = Pattern.compile("(?i).*(blob|binary).*");

    private final Flavour flavour;

    TableWords(Flavour flavour) {
        this.flavour = flavour;
    }

    /** The table that a statement makes; empty where it makes none. */
    Optional<TableShape> made(String statement) {
        Matcher matcher = CREATE.matcher(statement);
        if (!matcher.matches()) {
            return Optional.empty();
        }
        List<ColumnShape> columns = new ArrayList<>();
        List<KeyShape> keys = new ArrayList<>();
        for (String item : parts(matcher.group(3))) {
            Matcher key = KEY.matcher(item);
            Matcher column = COLUMN.matcher(item);
            if (key.matches()) {
                keys.add(new KeyShape(isPrimary(key.group(2)), names(key.group(4))));
            } else if (!NO_COLUMN.matcher(item).matches() && column.matches()) {
                columns.add(column(bare(column.group(1)), column.group(2)));
                if (column.group(2).matches("(?is).*\\bPRIMARY\\s+KEY\\b.*")) {
                    keys.add(new KeyShape(true, List.of(bare(column.group(1)))));
                }
            }
        }
        keys.sort(java.util.Comparator.comparing(k -> !k.primary()));
        return Optional.of(
                new TableShape(table(matcher.group(1), matcher.group(2)), false, columns, keys, List.of(), false));
    }

    /** The key that a statement adds to a table. */
    record Added(TableName table, KeyShape key) {}

    Optional<Added> added(String statement) {
        Matcher matcher = ALTER.matcher(statement);
        return matcher.matches()
                ? Optional.of(new Added(
                        table(matcher.group(1), matcher.group(2)),
                        new KeyShape(isPrimary(matcher.group(3)), names(matcher.group(4)))))
                : Optional.empty();
    }

    private static boolean isPrimary(String words) {
        return words.toUpperCase(Locale.ROOT).startsWith("PRIMARY");
    }

    private TableName table(String first, @org.jspecify.annotations.Nullable String second) {
        if (second == null) {
            return TableName.of(bare(first));
        }
        return bare(first).equals(flavour.ownSchema)
                ? TableName.of(bare(second))
                : TableName.of(bare(first), bare(second));
    }

    private ColumnShape column(String name, String words) {
        Matcher behind = BEHIND.matcher(words);
        String type = (behind.find() ? words.substring(0, behind.start()) : words).strip();
        boolean computed = words.matches("(?is).*\\b(GENERATED\\s+ALWAYS\\s+AS\\s*\\(|AS\\s*\\().*");
        return new ColumnShape(
                name,
                type,
                // Of SQLite, each value says what it is.
                Optional.of(flavour == Flavour.SQLITE ? CanonicalType.of(Kind.ANY) : CanonicalType.written()),
                !words.matches("(?is).*\\b(NOT\\s+NULL|PRIMARY\\s+KEY)\\b.*"),
                computed ? Generation.COMPUTED : Generation.NONE,
                Optional.empty());
    }

    /** What MariaDB writes as text, or as bytes, that is something else. */
    static Literals.Meant meant(ColumnShape column) {
        Matcher bits = BITS.matcher(column.declaredType());
        return new Literals.Meant(
                BINARY.matcher(column.declaredType()).matches(), bits.matches() ? Integer.parseInt(bits.group(1)) : 0);
    }

    /** What stands between commas, but for those in brackets and quotes. */
    private static List<String> parts(String text) {
        List<String> parts = new ArrayList<>();
        int depth = 0;
        int from = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '\'' || c == '"' || c == '`') {
                for (i++; i < text.length() && text.charAt(i) != c; i++) {
                    i += c == '\'' && text.charAt(i) == '\\' ? 1 : 0;
                }
            } else if (c == '(') {
                depth++;
            } else if (c == ')') {
                depth--;
            } else if (c == ',' && depth == 0) {
                parts.add(text.substring(from, i).strip());
                from = i + 1;
            }
        }
        parts.add(text.substring(from).strip());
        return parts;
    }

    /** Names between commas; of an index, what stands behind each of them is left away. */
    private static List<String> names(String text) {
        return parts(text).stream()
                .map(part -> {
                    Matcher name = COLUMN.matcher(part);
                    return name.matches() ? bare(name.group(1)) : part;
                })
                .toList();
    }

    private static String bare(String name) {
        char quote = name.charAt(0);
        return quote == '"' || quote == '`'
                ? name.substring(1, name.length() - 1).replace("" + quote + quote, "" + quote)
                : name;
    }
}
