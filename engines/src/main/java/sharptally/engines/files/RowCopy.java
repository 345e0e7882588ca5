package sharptally.engines.files;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;
import sharptally.core.rows.RowBatch;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.embed.Relation;

/** Rows on their way into an embedded database: a file that is its owner's alone, and goes once they are there. */
final class RowCopy implements AutoCloseable {
    private final Path folder;
    private final Path file;
    private final BufferedWriter out;
    private long count;

    RowCopy(PlaceAccess access) {
        this.folder = access.session().temporary().orElse(Path.of(System.getProperty("java.io.tmpdir")));
        try {
            this.file = Files.createTempFile(folder, "sharp-tally-", ".rows");
            file.toFile().deleteOnExit();
            this.out = Files.newBufferedWriter(file, StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    private ToolException noRoom(IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't copy rows into a temporary file",
                folder + ": " + e.getMessage(),
                "make room there, or choose another temporary folder",
                e);
    }

    void add(RowBatch batch) {
        for (int row = 0; row < batch.rows(); row++) {
            add(batch.row(row));
        }
    }

    /** With the number of the row behind it: so that no line is empty, and the order is told. */
    void add(List<Value> row) {
        try {
            for (int column = 0; column < row.size(); column++) {
                if (!(row.get(column) instanceof Value.Null)) {
                    out.write('"');
                    out.write(text(row.get(column)).replace("\"", "\"\""));
                    out.write('"');
                }
                out.write(',');
            }
            out.write(count++ + "\n");
        } catch (IOException e) {
            throw noRoom(e);
        }
    }

    private static String text(Value value) {
        return value instanceof Value.Bytes bytes
                ? java.util.HexFormat.of().formatHex(bytes.value())
                : value instanceof Value.Decimal decimal ? decimal.value().toPlainString() : value.toString();
    }

    /** All rows that were added, in a table of these columns. */
    Relation.Copied relation(List<String> columns) {
        try {
            out.close();
        } catch (IOException e) {
            throw noRoom(e);
        }
        return new Relation.Copied(file, columns, true);
    }

    @Override
    public void close() {
        try {
            out.close();
            Files.deleteIfExists(file);
        } catch (IOException e) {
            // It goes at the end of the program.
        }
    }
}
