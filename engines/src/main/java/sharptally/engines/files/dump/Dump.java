package sharptally.engines.files.dump;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.files.text.FileProblem;

/**
 * What is in a dump: its tables, and between which places of its text their rows lie. It is gone through once for that, to its
 * end, so that one that was cut off is not taken for a whole one. Immutable.
 *
 * @param written whether a program says that it wrote it; else it is a script of any origin
 * @param words the statements that tell of tables
 * @param tables what they make
 * @param rows where the first statement with rows of a table begins, and where the last one does; none for empty tables
 */
record Dump(
        DumpText text,
        Flavour flavour,
        boolean written,
        List<String> words,
        DumpTables tables,
        Map<TableName, Span> rows) {
    /** What mariadb-dump and mysqldump write unless they are told not to. */
    private static final Pattern IN_UTC = Pattern.compile("(?i)\\btime_zone\\s*=\\s*'\\+00:00'");

    private static final Pattern SCRIPT = Pattern.compile(
            "(?im)^\\s*((CREATE|INSERT|REPLACE|COPY|SET|BEGIN|DROP|USE|PRAGMA|START|ALTER)\\b|/\\*|--\\s)");

    /** From the first statement with rows of a table to the begin of the last one. */
    record Span(DumpBytes.Place first, DumpBytes.Place last) {
        Span and(Span other) {
            return new Span(
                    first.compareTo(other.first) < 0 ? first : other.first,
                    last.compareTo(other.last) > 0 ? last : other.last);
        }
    }

    Dump {
        words = List.copyOf(words);
    }

    /** What was gone through before. */
    static Dump of(DumpText text, Flavour flavour, boolean written, List<String> words, Map<TableName, Span> rows) {
        return new Dump(text, flavour, written, words, DumpTables.of(words, flavour), rows);
    }

    /**
     * @param said for whose database scripts are meant
     * @throws ToolException when it is no plain dump, or was cut off
     */
    static Dump of(DumpText text, Optional<Flavour> said) {
        Flavour flavour = said.or(() -> flavour(text)).orElse(Flavour.POSTGRESQL);
        List<String> words = new ArrayList<>();
        Map<TableName, Span> rows = new LinkedHashMap<>();
        boolean written = false;
        for (int part = 0; part < text.parts().size(); part++) {
            try (DumpBytes in = new DumpBytes(text, DumpBytes.Place.begin(part))) {
                String begin = in.begin();
                boolean whole = Flavour.written(begin).isPresent();
                if (!whole && (begin.indexOf(0) >= 0 || text.parts().size() == 1 && !isScript(begin))) {
                    throw neither(text.parts().get(part));
                }
                written |= whole;
                if (flavour == Flavour.MARIADB && !IN_UTC.matcher(begin).find()) {
                    words.add(DumpTables.LOCAL_TIMES);
                }
                Statements statements = new Statements(in, flavour, !whole);
                while (statements.hasNext()) {
                    DumpBytes.Place place = in.place();
                    Statements.Statement statement = statements.next();
                    if (statement instanceof Statements.Statement.Words of) {
                        if (!of.text().isEmpty()) {
                            words.add(of.text());
                        }
                    } else {
                        Statements.Statement.Rows begun = (Statements.Statement.Rows) statement;
                        rows.merge(begun.table(), new Span(place, place), Span::and);
                        statements.skip(begun);
                    }
                }
                if (whole && !statements.ended()) {
                    throw in.cut();
                }
            }
        }
        Dump dump = of(text, flavour, written, words, rows);
        rows.keySet().stream()
                .filter(t -> !dump.tables.shapes().containsKey(t))
                .findFirst()
                .ifPresent(t -> {
                    throw FileProblem.of(
                            text.location(),
                            "rows of " + t + ", and no CREATE TABLE for it",
                            "dump the table with its definition");
                });
        if (!written && dump.tables.shapes().isEmpty()) {
            throw neither(text.location());
        }
        text.check();
        return dump;
    }

    private static boolean isScript(String begin) {
        return SCRIPT.matcher(begin).find();
    }

    private static ToolException neither(Path file) {
        return FileProblem.of(
                file,
                "neither a dump of pg_dump, mariadb-dump, mysqldump or sqlite3, nor a script that makes a table",
                "check the file");
    }

    /** Empty for scripts that no database is told of. */
    private static Optional<Flavour> flavour(DumpText text) {
        if (text.archive()) {
            return Optional.of(Flavour.POSTGRESQL);
        }
        Optional<Flavour> all = Optional.empty();
        for (int part = 0; part < text.parts().size(); part++) {
            String begin;
            try (DumpBytes in = new DumpBytes(text, DumpBytes.Place.begin(part))) {
                begin = in.begin();
            }
            Optional<Flavour> one = Flavour.written(begin).or(() -> Flavour.likely(begin));
            if (all.isPresent() && one.isPresent() && !all.equals(one)) {
                throw new ToolException(
                        ErrorKind.READ,
                        "scripts for more than one kind of database",
                        text.parts().get(part).toString(),
                        "name those of one kind, or say for which they are: written=postgresql, mariadb or sqlite");
            }
            all = one.isPresent() ? one : all;
        }
        return all;
    }

    /** The rows of a table and of those that are parts of it; empty where there are none. */
    Optional<Span> span(TableShape table) {
        return tables.members(table.name()).stream()
                .map(rows::get)
                .filter(Objects::nonNull)
                .reduce(Span::and);
    }
}
