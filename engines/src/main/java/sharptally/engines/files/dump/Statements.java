package sharptally.engines.files.dump;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import sharptally.core.shape.TableName;

/** Goes through a dump statement by statement. Of those that hold rows, the rows are left to whoever wants them. */
final class Statements {
    private static final int MAX_STATEMENT_BYTES = 16 << 20;

    private static final List<String> KEPT =
            List.of("CREATE TABLE ", "CREATE UNLOGGED TABLE ", "CREATE UNIQUE INDEX ", "ALTER TABLE ");
    /** What may stand between INSERT and the name of its table. */
    private static final Set<String> INTO = Set.of("INSERT", "REPLACE", "IGNORE", "OR", "DELAYED", "INTO");

    private static final List<String> CHANGES = List.of("UPDATE ", "DELETE ", "TRUNCATE ", "MERGE ", "WITH ");
    /** How statements begin that leave the rows alone. */
    private static final List<String> HARMLESS = List.of(
            "ALTER ",
            "ANALY",
            "BEGIN",
            "COMMENT ",
            "COMMIT",
            "CREATE ",
            "DROP ",
            "END",
            "GO",
            "GRANT ",
            "LOCK ",
            "ON CONFLICT",
            "ON DUPLICATE",
            "PRAGMA ",
            "RESET ",
            "REVOKE ",
            "SAVEPOINT ",
            "RELEASE ",
            "SECURITY ",
            "SELECT ",
            "SET ",
            "SHOW ",
            "START ",
            "UNLOCK ",
            "USE ",
            "VACUUM",
            "\\");

    private static final Pattern RESHAPES =
            Pattern.compile(" (ADD COLUMN|DROP COLUMN|RENAME|CHANGE|ADD [`\"]) ?", Pattern.CASE_INSENSITIVE);
    private static final Pattern MADE_OF_ROWS = Pattern.compile("^[^(]* (AS|LIKE) |\\) AS (SELECT|TABLE) ");
    /** What brings rows of other files. */
    private static final Pattern ELSEWHERE = Pattern.compile("\\\\(copy|i|ir|include)\\b.*");

    private final DumpBytes in;
    private final Flavour flavour;
    private final boolean strict;
    private boolean ended;
    private boolean behindRows;

    /** What a statement is. */
    sealed interface Statement {
        /** Anything but rows, as text; empty for what is passed over. */
        record Words(String text) implements Statement {}

        /**
         * Rows, which come next.
         *
         * @param copied whether they are lines of fields; else lists of values
         * @param columns empty for all of the table
         */
        record Rows(TableName table, List<String> columns, boolean copied) implements Statement {}
    }

    /**
     * @param strict whether the text is no program's, so that any statement in it may change what others made
     */
    Statements(DumpBytes in, Flavour flavour, boolean strict) {
        this.in = in;
        this.flavour = flavour;
        this.strict = strict;
    }

    /** Whether the closing line was passed that the program writes which made the dump. */
    boolean ended() {
        return ended;
    }

    /** Goes to the begin of the next statement; false at the end. */
    boolean hasNext() {
        while (true) {
            int b = in.peek();
            if (b < 0) {
                return false;
            } else if (b <= ' ' || b == ';') {
                in.read();
            } else if (in.isNext("--") || b == '\\' || b == '#') {
                String line = in.line();
                if (line.startsWith("\\connect")) {
                    throw in.problem("a dump of several databases", "dump the one that is meant by itself");
                } else if (ELSEWHERE.matcher(line).matches()) {
                    throw elsewhere(line);
                }
                ended = ended || line.contains(flavour.end);
            } else if (in.isNext("/*")) {
                comment();
            } else if (in.isNext("DELIMITER ")) {
                routines();
            } else {
                return true;
            }
        }
    }

    private void comment() {
        in.skip(2);
        while (!in.isNext("*/")) {
            if (in.read() < 0) {
                throw in.cut();
            }
        }
        in.skip(2);
    }

    /** Those of MariaDB are between two changes of the delimiter. */
    private void routines() {
        in.line();
        while (!in.isNext("DELIMITER ;")) {
            if (in.peek() < 0) {
                throw in.cut();
            }
            in.line();
        }
        in.line();
    }

    Statement next() {
        if (flavour == Flavour.SQLITE && in.isNext("CREATE TRIGGER ")) {
            // Its statements look like any others; the client writes triggers behind all rows.
            behindRows = true;
        }
        if (behindRows) {
            if (in.isNext("CREATE TABLE ")) {
                throw in.problem("a table behind a trigger", "dump one database with sqlite3 FILE .dump");
            }
            String text = text(false);
            ended = ended || text.equalsIgnoreCase("COMMIT");
            return new Statement.Words("");
        }
        if (in.isNext("INSERT ") || in.isNext("REPLACE ") || in.isNext("COPY ")) {
            return rows(in.isNext("COPY "));
        }
        boolean kept = KEPT.stream().anyMatch(in::isNext);
        DumpBytes.Place place = in.place();
        String text = text(kept);
        ended = ended || flavour == Flavour.SQLITE && text.equalsIgnoreCase("COMMIT");
        check(text, place);
        return new Statement.Words(kept ? text : "");
    }

    /** Nothing is executed: what would change rows that others bring, or bring them from elsewhere, can't be passed over. */
    private void check(String text, DumpBytes.Place place) {
        String upper = text.toUpperCase(Locale.ROOT).replaceAll("\\s+", " ");
        boolean changes =
                CHANGES.stream().anyMatch(upper::startsWith) && !upper.startsWith("DELETE FROM SQLITE_SEQUENCE");
        boolean known = !strict
                || upper.isEmpty()
                || HARMLESS.stream().anyMatch(upper::startsWith)
                        && !(upper.startsWith("ALTER TABLE")
                                && RESHAPES.matcher(upper).find())
                        && !(upper.startsWith("CREATE TABLE")
                                && MADE_OF_ROWS.matcher(upper).find());
        if (changes || !known) {
            String shown = text.substring(0, Math.min(60, text.length())).replaceAll("\\s+", " ");
            throw in.problem(
                    "a statement that is not executed here, and without it the rows are not what the script makes: "
                            + shown + ", from line " + place.line(),
                    "run the script in a database, and compare that");
        } else if (upper.startsWith("LOAD DATA") || upper.startsWith("SOURCE ")) {
            throw elsewhere(text);
        }
    }

    private sharptally.core.fault.ToolException elsewhere(String text) {
        return in.problem(
                "rows that are in another file: " + text.substring(0, Math.min(60, text.length())),
                "dump the database into one file, or name all scripts: a folder of them is read in the order of names");
    }

    private Statement rows(boolean copied) {
        if (copied) {
            in.skip(5);
        } else {
            String word = word();
            while (!word.equals("INTO")) {
                if (!INTO.contains(word)) {
                    throw in.problem("an INSERT that is none of a plain dump's", "only plain dumps can be read");
                }
                word = word();
            }
        }
        blank();
        TableName table = table();
        blank();
        List<String> columns = in.peek() == '(' ? names() : List.of();
        blank();
        if (copied) {
            if (!in.line().toLowerCase(Locale.ROOT).startsWith("from stdin")) {
                throw in.problem("a COPY of another form than pg_dump's", "dump the database with pg_dump");
            }
        } else if (in.isNext("VALUES")) {
            in.skip(6);
        } else {
            throw in.problem("an INSERT without VALUES", "only plain dumps can be read");
        }
        return new Statement.Rows(table, columns, copied);
    }

    private String word() {
        blank();
        StringBuilder word = new StringBuilder();
        while (Character.isLetter(in.peek())) {
            word.append((char) in.read());
        }
        return word.toString().toUpperCase(Locale.ROOT);
    }

    private TableName table() {
        String first = name();
        if (in.peek() != '.') {
            return TableName.of(first);
        }
        in.read();
        String second = name();
        return first.equals(flavour.ownSchema) ? TableName.of(second) : TableName.of(first, second);
    }

    /** Passes over the rows of a statement. */
    void skip(Statement.Rows rows) {
        if (!rows.copied()) {
            text(false);
            return;
        }
        String line = in.line();
        while (!line.equals("\\.")) {
            if (in.peek() < 0) {
                throw in.cut();
            }
            line = in.line();
        }
    }

    private List<String> names() {
        List<String> names = new ArrayList<>();
        do {
            in.read();
            blank();
            names.add(name());
            blank();
        } while (in.peek() == ',');
        in.read();
        return names;
    }

    private String name() {
        int quote = in.peek();
        ByteArrayOutputStream name = new ByteArrayOutputStream();
        if (quote == '"' || quote == '`') {
            in.read();
            while (true) {
                int b = in.read();
                if (b < 0) {
                    throw in.cut();
                } else if (b == quote && in.peek() != quote) {
                    break;
                } else if (b == quote) {
                    in.read();
                }
                name.write(b);
            }
        } else {
            while (in.peek() > ' ' && ".,()'\"`;".indexOf(in.peek()) < 0) {
                name.write(in.read());
            }
        }
        if (name.size() == 0) {
            throw in.problem("a name was expected here", "only plain dumps can be read");
        }
        return name.toString(StandardCharsets.UTF_8);
    }

    void blank() {
        while (in.peek() >= 0 && in.peek() <= ' ') {
            in.read();
        }
    }

    /** The statement up to its semicolon; whatever stands in quotes of any kind is none. */
    private String text(boolean kept) {
        ByteArrayOutputStream text = new ByteArrayOutputStream();
        for (int b = in.peek(); b != ';'; b = in.peek()) {
            if (b < 0) {
                throw in.cut();
            }
            Optional<byte[]> quoted =
                    b == '\'' || b == '"' || b == '`' ? Optional.of(quoted(b)) : b == '$' ? dollar() : Optional.empty();
            if (flavour == Flavour.POSTGRESQL && in.isNext("BEGIN ATOMIC")) {
                // The body of a function, whose statements look like any others.
                String line = in.line();
                while (!line.equals("END;") && !line.equals("END")) {
                    if (in.peek() < 0) {
                        throw in.cut();
                    }
                    line = in.line();
                }
                if (line.endsWith(";")) {
                    return "";
                }
            } else if (in.isNext("--")) {
                in.line();
                text.write(' ');
            } else if (in.isNext("/*") && quoted.isEmpty()) {
                comment();
            } else if (quoted.isPresent()) {
                text.writeBytes(kept ? quoted.get() : new byte[0]);
            } else {
                int read = in.read();
                if (kept || text.size() < 32) {
                    text.write(read);
                }
            }
            if (text.size() > MAX_STATEMENT_BYTES) {
                throw in.problem("a statement of more than " + MAX_STATEMENT_BYTES + " bytes", "check the file");
            }
        }
        in.read();
        return text.toString(StandardCharsets.UTF_8).strip();
    }

    private byte[] quoted(int quote) {
        ByteArrayOutputStream text = new ByteArrayOutputStream();
        text.write(in.read());
        while (true) {
            int b = in.read();
            if (b < 0) {
                throw in.cut();
            }
            text.write(b);
            if (b == '\\' && flavour.backslashes && quote == '\'') {
                text.write(in.read());
            } else if (b == quote) {
                return text.toByteArray();
            }
        }
    }

    /** {@code $$ … $$} or {@code $name$ … $name$}; empty where the sign is a letter like any other. */
    private Optional<byte[]> dollar() {
        if (flavour != Flavour.POSTGRESQL) {
            return Optional.empty();
        }
        StringBuilder tag = new StringBuilder();
        tag.append((char) in.read());
        while (Character.isLetterOrDigit(in.peek()) || in.peek() == '_') {
            tag.append((char) in.read());
        }
        if (in.peek() != '$') {
            return Optional.of(tag.toString().getBytes(StandardCharsets.UTF_8));
        }
        tag.append((char) in.read());
        while (!in.isNext(tag.toString())) {
            if (in.read() < 0) {
                throw in.cut();
            }
        }
        in.skip(tag.length());
        return Optional.of(new byte[0]);
    }
}
