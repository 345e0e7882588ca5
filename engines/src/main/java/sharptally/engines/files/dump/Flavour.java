package sharptally.engines.files.dump;

/** Whose program wrote a dump: how its text is quoted, and how it ends. */
enum Flavour {
    POSTGRESQL("PostgreSQL database dump", "PostgreSQL database dump complete", "public", false),
    /** MariaDB's and MySQL's. */
    MARIADB(" dump ", "-- Dump completed", "database", true),
    SQLITE("PRAGMA foreign_keys=OFF;", "COMMIT;", "main", false);

    final String begin;
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
}
