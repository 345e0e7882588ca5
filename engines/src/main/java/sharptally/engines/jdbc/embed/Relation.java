package sharptally.engines.jdbc.embed;

import java.nio.file.Path;
import java.util.List;

/** A table that is made of files. */
public sealed interface Relation {
    List<Path> files();

    /** The rows of Parquet files of the same columns. */
    record Parquet(List<Path> files) implements Relation {
        public Parquet {
            files = List.copyOf(files);
        }
    }

    /**
     * Of rows that were counted, the column that tells which one each is, from 0. Before the name of a table, with a blank
     * between, it names the table with that column.
     */
    String COUNTED = "tally_row";

    /**
     * Rows that were copied into a file of ours, as text: in UTF-8, between commas, quoted throughout but for NULL, which is
     * nothing at all.
     *
     * @param columns of the table
     * @param counted whether a last field tells which row each is
     */
    record Copied(Path file, List<String> columns, boolean counted) implements Relation {
        public Copied {
            columns = List.copyOf(columns);
        }

        @Override
        public List<Path> files() {
            return List.of(file);
        }
    }
}
