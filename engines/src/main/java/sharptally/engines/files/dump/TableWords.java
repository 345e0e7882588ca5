package sharptally.engines.files.dump;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;

/** What statements say of tables: their columns, which of them are keys and refer to others, and of what they are parts. */
final class TableWords {
    private static final Pattern NO_COLUMN = Pattern.compile(
            "(?is)(CONSTRAINT|PRIMARY\\s+KEY|UNIQUE|FOREIGN\\s+KEY|CHECK|KEY|INDEX|FULLTEXT|SPATIAL|EXCLUDE|PERIOD)\\b.*");
    /** Behind the type. */
    private static final Pattern BEHIND = Pattern.compile(
            "\\b(NOT\\s+NULL|NULL|DEFAULT|COLLATE|GENERATED|PRIMARY|UNIQUE|REFERENCES|CHECK|AUTO_INCREMENT"
                    + "|AUTOINCREMENT|COMMENT|CHARACTER\\s+SET|ON\\s+UPDATE|CONSTRAINT|STORED|VIRTUAL|AS\\s*\\()");

    private static final Pattern COMPUTED = Pattern.compile("(?s).*\\bAS\\s*\\(.*");
    private static final Pattern NEVER_NULL = Pattern.compile("(?s).*\\b(NOT\\s+NULL|PRIMARY\\s+KEY)\\b.*");
    /** Columns of an index that stand for themselves. */
    private static final Pattern PLAIN = Pattern.compile("(?is)[^()]*?(\\s+(ASC|DESC))?");

    private static final Pattern BITS = Pattern.compile("(?i)bit\\((\\d{1,2})\\)");
    private static final Pattern BINARY = Pattern.compile("(?i).*(blob|binary).*");

    private final Flavour flavour;

    /** What a statement says of one table. */
    sealed interface Said {
        TableName table();

        /** It makes the table; without columns where they are those of the table that it is a part of. */
        record Made(TableName table, List<ColumnShape> columns) implements Said {}

        /** The table has a key. */
        record Keyed(TableName table, KeyShape key) implements Said {}

        /** The table refers to another one; without columns of that, to its primary key. */
        record Refers(TableName table, ForeignKey key) implements Said {}

        /**
         * The table has the columns of another one.
         *
         * @param partition whether its rows are rows of that, and of nothing else
         */
        record PartOf(TableName table, TableName whole, boolean partition) implements Said {}
    }

    TableWords(Flavour flavour) {
        this.flavour = flavour;
    }

    /** In the order in which it is said; empty for other statements. */
    List<Said> said(String statement) {
        SqlWords words = new SqlWords(statement);
        if (words.pass("ALTER", "TABLE")) {
            return altered(words);
        } else if (words.pass("CREATE", "UNIQUE", "INDEX")) {
            return indexed(words);
        } else if (words.pass("CREATE")) {
            words.pass("UNLOGGED");
            return words.pass("TABLE") ? made(words) : List.of();
        }
        return List.of();
    }

    private List<Said> made(SqlWords words) {
        words.pass("IF", "NOT", "EXISTS");
        Optional<TableName> named = words.table(flavour);
        if (named.isEmpty()) {
            return List.of();
        }
        TableName table = named.get();
        List<Said> said = new ArrayList<>();
        if (words.pass("PARTITION", "OF")) {
            said.add(new Said.Made(table, List.of()));
            words.table(flavour).ifPresent(whole -> said.add(new Said.PartOf(table, whole, true)));
            return said;
        }
        Optional<String> items = words.bracket();
        if (items.isEmpty()) {
            return List.of();
        }
        List<ColumnShape> columns = new ArrayList<>();
        said.add(new Said.Made(table, columns));
        for (String item : SqlWords.parts(items.get())) {
            if (NO_COLUMN.matcher(item).matches()) {
                constraint(table, new SqlWords(item)).ifPresent(said::add);
            } else {
                SqlWords column = new SqlWords(item);
                column.name().ifPresent(name -> {
                    columns.add(column(name, column.rest()));
                    said.addAll(inline(table, name, column.rest()));
                });
            }
        }
        if (words.pass("INHERITS")) {
            for (String whole : words.bracket().map(SqlWords::parts).orElse(List.of())) {
                new SqlWords(whole).table(flavour).ifPresent(t -> said.add(new Said.PartOf(table, t, false)));
            }
        }
        return said;
    }

    private List<Said> altered(SqlWords words) {
        words.pass("IF", "EXISTS");
        words.pass("ONLY");
        Optional<TableName> table = words.table(flavour);
        if (table.isEmpty()) {
            return List.of();
        }
        List<Said> said = new ArrayList<>();
        for (String item : SqlWords.parts(words.rest())) {
            SqlWords action = new SqlWords(item);
            if (action.pass("ATTACH", "PARTITION")) {
                action.table(flavour).ifPresent(part -> said.add(new Said.PartOf(part, table.get(), true)));
            } else if (action.pass("INHERIT")) {
                action.table(flavour).ifPresent(whole -> said.add(new Said.PartOf(table.get(), whole, false)));
            } else if (action.pass("ADD")) {
                constraint(table.get(), action).ifPresent(said::add);
            }
        }
        return said;
    }

    /** Only what holds for all rows, and for columns as they are. */
    private List<Said> indexed(SqlWords words) {
        if (!words.passTo("ON")) {
            return List.of();
        }
        words.pass("ONLY");
        Optional<TableName> table = words.table(flavour);
        if (words.pass("USING")) {
            words.name();
        }
        List<String> items = words.bracket().map(SqlWords::parts).orElse(List.of());
        boolean plain = items.stream().allMatch(i -> PLAIN.matcher(i).matches() && !i.contains(" COLLATE "));
        return table.isPresent() && plain && !items.isEmpty() && !words.passTo("WHERE")
                ? List.of(new Said.Keyed(
                        table.get(),
                        new KeyShape(
                                false,
                                items.stream()
                                        .map(i -> new SqlWords(i).name().orElse(i))
                                        .toList())))
                : List.of();
    }

    private Optional<Said> constraint(TableName table, SqlWords words) {
        if (words.pass("CONSTRAINT")) {
            words.name();
        }
        if (words.pass("PRIMARY", "KEY")) {
            words.pass("CLUSTERED");
            return key(table, true, words);
        } else if (words.pass("UNIQUE")) {
            return key(table, false, words);
        } else if (words.pass("FOREIGN", "KEY")) {
            return reference(table, words.names(), words);
        }
        return Optional.empty();
    }

    /** A name may stand before the columns. */
    private static Optional<Said> key(TableName table, boolean primary, SqlWords words) {
        if (!words.pass("KEY")) {
            words.pass("INDEX");
        }
        words.pass("NULLS", "NOT", "DISTINCT");
        if (!words.rest().startsWith("(")) {
            words.name();
        }
        List<String> columns = words.names();
        return columns.isEmpty()
                ? Optional.empty()
                : Optional.of(new Said.Keyed(table, new KeyShape(primary, columns)));
    }

    private Optional<Said> reference(TableName table, List<String> columns, SqlWords words) {
        return words.passTo("REFERENCES")
                ? words.table(flavour)
                        .map(parent -> new Said.Refers(table, new ForeignKey(columns, parent, words.names())))
                : Optional.empty();
    }

    /** What a column says of itself. */
    private List<Said> inline(TableName table, String column, String rest) {
        List<Said> said = new ArrayList<>();
        String outline = SqlWords.outline(rest);
        if (outline.matches("(?s).*\\bPRIMARY\\s+KEY\\b.*")) {
            said.add(new Said.Keyed(table, new KeyShape(true, List.of(column))));
        } else if (outline.matches("(?s).*\\bUNIQUE\\b.*")) {
            said.add(new Said.Keyed(table, new KeyShape(false, List.of(column))));
        }
        reference(table, List.of(column), new SqlWords(rest)).ifPresent(said::add);
        return said;
    }

    private ColumnShape column(String name, String words) {
        String outline = SqlWords.outline(words);
        Matcher behind = BEHIND.matcher(outline);
        String type = (behind.find() ? words.substring(0, behind.start()) : words).strip();
        return new ColumnShape(
                name,
                type,
                Optional.of(DeclaredType.of(type, flavour)),
                !NEVER_NULL.matcher(outline).matches(),
                COMPUTED.matcher(outline).matches() ? Generation.COMPUTED : Generation.NONE,
                Optional.empty());
    }

    /** What MariaDB writes as text, or as bytes, that is something else. */
    static Literals.Meant meant(ColumnShape column) {
        String declared = column.declaredType().toLowerCase(Locale.ROOT);
        Matcher bits = BITS.matcher(declared);
        return new Literals.Meant(
                BINARY.matcher(declared).matches(), bits.matches() ? Integer.parseInt(bits.group(1)) : 0);
    }
}
