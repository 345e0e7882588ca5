package sharptally.api.job;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.Engines;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.jdbc.embed.Relation;

/** Turns records of text into a Parquet file of text columns. */
public final class ParquetOut {
    /** Writes records as CSV, with a line of names first. */
    @FunctionalInterface
    public interface Records<T> {
        /**
         * @return whatever is to be known of them
         */
        T write(OutputStream out);
    }

    private ParquetOut() {}

    /**
     * @param names of the columns, as they stand in the first record
     * @param out gets the file
     * @return what the records gave
     */
    public static <T> T write(List<String> names, Records<T> records, OutputStream out) {
        try {
            Path folder = Files.createTempDirectory("sharp-tally-");
            Path named = folder.resolve("named.csv");
            Path rows = folder.resolve("rows.csv");
            Path parquet = folder.resolve("rows.parquet");
            try {
                T given;
                try (OutputStream to = Files.newOutputStream(named)) {
                    given = records.write(to);
                }
                try (InputStream in = new BufferedInputStream(Files.newInputStream(named));
                        OutputStream to = Files.newOutputStream(rows)) {
                    int c = in.read();
                    while (c >= 0 && c != '\n') {
                        c = in.read();
                    }
                    in.transferTo(to);
                }
                Engines.embedded()
                        .write(
                                PlaceAccess.of(new Address("parquet", parquet.toString(), Optional.empty()))
                                        .spillingTo(folder),
                                new Relation.Copied(rows, names, false),
                                names.stream()
                                        .map(name -> new Embedded.Kept(name, "VARCHAR"))
                                        .toList(),
                                parquet);
                Files.copy(parquet, out);
                return given;
            } finally {
                for (Path file : List.of(named, rows, parquet)) {
                    Files.deleteIfExists(file);
                }
                folder.toFile().delete();
            }
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write a Parquet file",
                    String.valueOf(e.getMessage()),
                    Hint.ROOM_FOR_OUTPUT,
                    e);
        }
    }
}
