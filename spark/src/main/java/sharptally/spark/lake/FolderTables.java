package sharptally.spark.lake;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;
import org.apache.hadoop.fs.Path;
import org.apache.spark.sql.DataFrameReader;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.TableName;

/**
 * Tables by their path: a file or folder of one table, or a folder that holds nothing but folders and files of a table each.
 *
 * @param paths by the name of the table
 * @param form what the user says of how they are written
 */
record FolderTables(SparkSession session, Map<String, Path> paths, boolean one, Map<String, String> form)
        implements LakeTables {
    private static final List<String> FORMATS = List.of("avro", "csv", "delta", "iceberg", "json", "orc", "parquet");

    static FolderTables of(SparkSession session, String where, Map<String, String> form) {
        Optional.ofNullable(form.get("format"))
                .filter(f -> !FORMATS.contains(f))
                .ifPresent(f -> {
                    throw new ToolException(
                            ErrorKind.USAGE,
                            "no such format: " + f,
                            "spark:" + where,
                            "there are: " + String.join(", ", FORMATS));
                });
        Path path = new Path(where);
        try {
            FileSystem files = path.getFileSystem(session.sessionState().newHadoopConf());
            if (!files.exists(path)) {
                throw new ToolException(
                        ErrorKind.READ, "there is no such file or folder", "spark:" + where, "check the path");
            }
            Map<String, Path> paths = new TreeMap<>();
            List<FileStatus> inside = files.getFileStatus(path).isDirectory()
                    ? Arrays.stream(files.listStatus(path))
                            .filter(FolderTables::isVisible)
                            .toList()
                    : List.of();
            boolean one = inside.isEmpty() || isTable(inside);
            if (one) {
                paths.put(nameOf(path), path);
            } else {
                inside.forEach(status -> paths.put(nameOf(status.getPath()), status.getPath()));
            }
            return new FolderTables(session, paths, one, form);
        } catch (IOException | RuntimeException e) { // A store that the cluster has no jar for.
            throw Trouble.of(e, "spark:" + where);
        }
    }

    private static boolean isVisible(FileStatus status) {
        String name = status.getPath().getName();
        return name.equals("_delta_log") || !name.startsWith("_") && !name.startsWith(".");
    }

    /** Whether what lies in a folder are the parts of one table. */
    private static boolean isTable(List<FileStatus> inside) {
        return inside.stream()
                .anyMatch(s -> s.isDirectory()
                        ? s.getPath().getName().contains("=")
                                || s.getPath().getName().equals("_delta_log")
                                || s.getPath().getName().equals("metadata")
                        : s.getPath().getName().startsWith("part-"));
    }

    private static String nameOf(Path path) {
        return path.getName().replaceAll("(?i)(\\.(parquet|orc|avro|csv|tsv|json|jsonl|gz|snappy|zst))+$", "");
    }

    @Override
    public List<TableName> tables() {
        return paths.keySet().stream().map(TableName::of).toList();
    }

    @Override
    public Optional<TableName> sole() {
        return one ? tables().stream().findFirst() : Optional.empty();
    }

    @Override
    public String schema() {
        return "";
    }

    private String format(Path path) {
        return Optional.ofNullable(form.get("format")).orElseGet(() -> told(path));
    }

    /** By what lies there. */
    private String told(Path path) {
        try {
            FileSystem files = path.getFileSystem(session.sessionState().newHadoopConf());
            if (files.exists(new Path(path, "_delta_log"))) {
                return "delta";
            }
            if (files.exists(new Path(path, "metadata"))) {
                return "iceberg";
            }
            var all = files.listFiles(path, true);
            while (all.hasNext()) {
                FileStatus file = all.next();
                String name = file.getPath().getName().toLowerCase(Locale.ROOT);
                if (isVisible(file)) {
                    for (String format : FORMATS) {
                        if (name.matches(".*\\." + format + "l?(\\.[a-z0-9]+)?")) {
                            return format;
                        }
                    }
                }
            }
        } catch (IOException | RuntimeException e) {
            throw Trouble.of(e, "spark:" + path);
        }
        throw new ToolException(
                ErrorKind.USAGE,
                "it can't be told in which format these files are",
                "spark:" + path,
                "say it: ?format=" + String.join("|", FORMATS));
    }

    @Override
    public Dataset<Row> rows(TableName table) {
        Path path = paths.get(table.name());
        if (path == null) {
            throw new ToolException(
                    ErrorKind.READ,
                    "no such table",
                    "spark:…#" + table,
                    "there are: " + String.join(", ", paths.keySet()));
        }
        String format = format(path);
        DataFrameReader reader = session.read().format(format).option("mode", "FAILFAST");
        if (format.equals("csv")) {
            reader = asCsv(reader);
        } else if (format.equals("iceberg")) {
            byPath();
        } else if (format.equals("json")) {
            reader = reader.option("prefersDecimal", true);
        }
        return reader.load(path.toString());
    }

    /** Tables by their path are read by a catalogue of its own, which is one of folders unless the cluster says otherwise. */
    private void byPath() {
        String catalogue = "spark.sql.catalog.default_iceberg";
        if (session.conf().getOption(catalogue).isEmpty()) {
            session.conf().set(catalogue, "org.apache.iceberg.spark.SparkCatalog");
            session.conf().set(catalogue + ".type", "hadoop");
            session.conf().set(catalogue + ".warehouse", "file:/nonexistent");
        }
    }

    /** Fields as they are written: their types are the other side's. */
    private DataFrameReader asCsv(DataFrameReader reader) {
        String delimiter = form.getOrDefault("delimiter", ",");
        return reader.option("header", !form.getOrDefault("header", "yes").equals("no"))
                .option("inferSchema", false)
                .option(
                        "sep",
                        Map.of("tab", "\t", "comma", ",", "semicolon", ";", "pipe", "|")
                                .getOrDefault(delimiter, delimiter))
                .option("quote", form.getOrDefault("quote", "\""))
                .option("escape", form.getOrDefault("quote", "\""))
                .option("encoding", form.getOrDefault("encoding", "UTF-8"))
                .option("multiLine", !form.getOrDefault("lines", "many").equals("one"))
                .option("maxCharsPerColumn", -1)
                .option("enforceSchema", false)
                // Else it would be NULL, as nothing at all is.
                .option("emptyValue", LakeTypes.EMPTY);
    }

    @Override
    public boolean isWritten() {
        return paths.values().stream()
                .findFirst()
                .map(p -> format(p).equals("csv"))
                .orElse(false);
    }
}
