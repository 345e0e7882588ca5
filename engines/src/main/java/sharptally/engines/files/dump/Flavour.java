package sharptally.engines.files.dump;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Whose program wrote a dump, or for whose database a script is meant: how its text is quoted, and how it ends. */
enum Flavour {
    POSTGRESQL("PostgreSQL database dump", "PostgreSQL database dump complete", "public", false),
    /** MariaDB's and MySQL's. */
    MARIADB(" dump ", "-- Dump completed", "database", true),
    SQLITE("PRAGMA foreign_keys=OFF;", "COMMIT;", "main", false);

    private final String begin;
    final String end;
    final String ownSchema;
    /** Whether a backslash stands for something else in all quotes. */
    final boolean backslashes;

    Flavour(String begin, String end, String ownSchema, boolean backslashes) {
        this.begin = begin;
        this.end = end;
        this.ownSchema = ownSchema;
        this.backslashes = backslashes;
    }

    /** Whose program says at the begin of a text that it wrote it; empty for scripts of others. */
    static Optional<Flavour> written(String begin) {
        String head = begin.substring(0, Math.min(4_096, begin.length()));
        return List.of(values()).stream()
                .filter(flavour -> flavour == MARIADB
                        ? head.lines().limit(3).anyMatch(l -> l.startsWith("-- M") && l.contains(flavour.begin))
                        : head.contains(flavour.begin))
                .findFirst();
    }

    /** For whose database a script seems to be, by how it quotes names and brings rows; empty for any. */
    static Optional<Flavour> likely(String begin) {
        String upper = begin.toUpperCase(Locale.ROOT);
        if (begin.contains("`") || upper.contains("ENGINE=")) {
            return Optional.of(MARIADB);
        } else if (upper.contains("PRAGMA ")) {
            return Optional.of(SQLITE);
        }
        return upper.contains("FROM STDIN") || begin.contains("$$") ? Optional.of(POSTGRESQL) : Optional.empty();
    }
}
