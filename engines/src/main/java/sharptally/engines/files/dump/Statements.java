package sharptally.engines.files.dump;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import sharptally.core.shape.TableName;

/** Goes through a dump statement by statement. Of those that hold rows, the rows are left to whoever wants them. */
final class Statements {
    private static final int MAX_STATEMENT_BYTES = 16 << 20;

    private final DumpBytes in;
    private final Flavour flavour;
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

    Statements(DumpBytes in, Flavour flavour) {
        this.in = in;
        this.flavour = flavour;
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
        if (in.isNext("INSERT INTO ") || in.isNext("COPY ")) {
            return rows(in.isNext("COPY "));
        }
        boolean kept = in.isNext("CREATE TABLE ") || in.isNext("CREATE UNLOGGED TABLE ") || in.isNext("ALTER TABLE ");
        String text = text(kept);
        ended = ended || flavour == Flavour.SQLITE && text.equalsIgnoreCase("COMMIT");
        return new Statement.Words(kept ? text : "");
    }

    private Statement rows(boolean copied) {
        in.skip(copied ? 5 : 12);
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
