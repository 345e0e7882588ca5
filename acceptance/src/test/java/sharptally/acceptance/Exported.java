package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.postgresql.PGConnection;

/** Tables written into files by the databases themselves. */
record Exported(Database database, RandomTable table, Path folder) {
    /** The columns, bytes as digits where the database would write them as they are. */
    private String terms() {
        return IntStream.range(0, table.columns.size())
                .mapToObj(i -> {
                    String name = database.quote(table.columns.get(i));
                    return switch (table.types.get(i)) {
                        case BYTES ->
                            switch (database.kind().like()) {
                                case POSTGRESQL -> name;
                                case H2 -> "RAWTOHEX(" + name + ") AS " + name;
                                default -> "CASE WHEN " + name + " IS NOT NULL THEN hex(" + name + ") END AS " + name;
                            };
                        default -> name;
                    };
                })
                .collect(Collectors.joining(", "));
    }

    private String query() {
        return "SELECT " + terms() + " FROM " + database.quote("t");
    }

    private String names() {
        return table.columns.stream()
                .map(c -> URLEncoder.encode(c, StandardCharsets.UTF_8))
                .collect(Collectors.joining(","));
    }

    /**
     * @param name of the file, without its ending
     * @return its address
     */
    String write(String name) throws Exception {
        Path csv = folder.resolve(name + ".csv");
        switch (database.kind().like()) {
            case SQLITE -> sqlite(csv);
            case DUCKDB ->
                // Its COPY makes no difference between names that need quotes and values.
                database.execute("COPY (" + query() + ") TO '" + csv + "' (FORMAT csv, HEADER)");
            case H2 ->
                database.execute("CALL CSVWRITE('" + csv + "', '" + query().replace("'", "''") + "', 'charset=UTF-8')");
            case POSTGRESQL -> copy(csv, "(FORMAT csv, HEADER)");
            default -> {
                Path tsv = folder.resolve(name + ".tsv");
                database.execute(query() + " INTO OUTFILE '" + tsv + "' CHARACTER SET utf8mb4");
                return "tsv:" + tsv + "?encoding=utf-8&names=" + names();
            }
        }
        return "csv:" + csv + "?header=yes";
    }

    /** In PostgreSQL's own form of text, or as JSON. */
    String write(String name, String kind) throws Exception {
        Path file = folder.resolve(name + "." + kind);
        if (kind.equals("tsv")) {
            copy(file, "");
            return "tsv:" + file + "?names=" + names();
        }
        try (OutputStream out = Files.newOutputStream(file)) {
            for (String line : database.values("SELECT row_to_json(r)::text FROM (" + query() + ") r")) {
                out.write((line + "\n").getBytes(StandardCharsets.UTF_8));
            }
        }
        return "jsonl:" + file + "?names=" + names();
    }

    private void copy(Path file, String options) throws Exception {
        try (Connection connection = database.connect();
                OutputStream out = Files.newOutputStream(file)) {
            connection
                    .unwrap(PGConnection.class)
                    .getCopyAPI()
                    .copyOut("COPY (" + query() + ") TO STDOUT " + options, out);
        }
    }

    private void sqlite(Path file) throws Exception {
        Process client = new ProcessBuilder(
                        "sqlite3",
                        "-csv",
                        "-header",
                        folder.resolve(database.name() + ".db").toString(),
                        query())
                .redirectOutput(file.toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        assertThat(client.waitFor()).isZero();
    }
}
