package sharptally.api.job.checksum;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.stream.IntStream;
import sharptally.api.job.Context;
import sharptally.core.checksum.TableSums;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.formats.checksum.ChecksumFile;
import sharptally.formats.checksum.ChecksumFile.HashedColumn;
import sharptally.report.text.ObstacleText;

/**
 * The checksums of one table, alone or against those of a file.
 *
 * @param table as the user names it
 * @param key the key's columns; empty for the table's own
 * @param leaveOut columns that do not go into the hash
 * @param where a condition on the rows
 * @param like what columns of files are read as; empty for text
 * @param rowsPerRange about how many rows a range has; not used with {@code against}, which brings its ranges
 * @param against checksums made elsewhere, or earlier
 * @param exportRows the file for the rows of ranges that differ
 */
public record ChecksumJob(
        Endpoint access,
        String table,
        List<String> key,
        List<ColumnChoice> leaveOut,
        Optional<String> where,
        Optional<ColumnTypes> like,
        long rowsPerRange,
        Optional<ChecksumFile> against,
        Optional<Path> exportRows) {

    /**
     * What came of it.
     *
     * @param here the checksums of the table
     * @param there those that they were compared with
     * @param differing places of the ranges that differ
     * @param remarks what the user should know
     */
    public record Result(
            ChecksumFile here, Optional<ChecksumFile> there, List<Integer> differing, List<String> remarks) {
        public Result {
            differing = List.copyOf(differing);
            remarks = List.copyOf(remarks);
        }
    }

    /** The table that an address means without naming one, as that of a file does. */
    public static Optional<String> soleTable(Endpoint access) {
        try (Place place = access.open()) {
            return place.soleTable().map(TableName::toString);
        }
    }

    public Result run(Context context, BooleanSupplier stopAsked) {
        try (Place place = access.open()) {
            TableShape shape = place.describe(new Extract(table, Optional.empty(), condition(), java.util.Map.of()));
            List<ColumnShape> keyColumns = key(shape);
            List<Hashed> columns = against.isPresent() ? columnsOf(shape, against.get()) : columns(shape, keyColumns);
            TableSums sums = new TableSums(place, shape, keyColumns, columns, stopAsked);
            List<KeyRange> ranges =
                    against.isPresent() ? against.get().ranges() : sums.ranges(KeyRange.ALL, rowsPerRange);
            ChecksumFile here = new ChecksumFile(
                    head(context.second(), place, shape, keyColumns, columns), ranges, sums.sums(ranges));
            place.passedOver(shape.name()).stream().findFirst().ifPresent(broken -> {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "checksums would leave out broken records: " + broken,
                        shape.name().toString(),
                        "mend them, or compare the rows");
            });
            List<Integer> differing = against.map(file -> differing(here, file)).orElse(List.of());
            List<String> remarks = new ArrayList<>();
            sums.readProblem().ifPresent(why -> remarks.add("rows were read and hashed here: " + ObstacleText.of(why)));
            if (exportRows.isPresent()) {
                List<KeyRange> wanted = differing.stream().map(ranges::get).toList();
                long rows = new RowExport(exportRows.get(), shape, keyColumns, columns).write(sums, wanted);
                remarks.add(rows + " rows of these ranges are in " + exportRows.get());
            }
            return new Result(here, against, differing, remarks);
        }
    }

    private Optional<String> condition() {
        return where.or(() -> against.flatMap(file -> file.head().where()));
    }

    private ChecksumFile.Head head(
            String at, Place place, TableShape shape, List<ColumnShape> keyColumns, List<Hashed> columns) {
        return new ChecksumFile.Head(
                ChecksumFile.FORMAT,
                ChecksumFile.COMMON_FORM,
                ChecksumFile.HASH,
                place.address().toString(),
                place.product(),
                shape.name().toString(),
                at,
                keyColumns.stream().map(ColumnShape::name).toList(),
                columns.stream()
                        .map(c -> new HashedColumn(
                                c.column().name(),
                                c.comparedAs(),
                                c.column().type().orElseThrow().padded(),
                                c.digits()))
                        .toList(),
                condition());
    }

    private List<ColumnShape> key(TableShape shape) {
        List<String> names = !key.isEmpty()
                ? key
                : against.map(file -> file.head().key())
                        .orElseGet(() -> shape.keys().stream()
                                .findFirst()
                                .map(KeyShape::columns)
                                .orElseThrow(() -> new ToolException(
                                        ErrorKind.USAGE,
                                        "table has no key to make ranges of",
                                        access.label().toString(),
                                        Hint.RANGE_KEY)));
        return names.stream().map(name -> column(shape, name)).toList();
    }

    private ColumnShape column(TableShape shape, String name) {
        ColumnShape found = shape.column(name)
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE, "no such column", shape.name() + "." + name, "survey lists the columns"));
        if (found.type().isEmpty()) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "column can't be read, so not hashed",
                    shape.name() + "." + name + " (" + found.declaredType() + ")",
                    Hint.LEAVE_OUT_COLUMN);
        }
        // Trailing blanks of a file's text carry no meaning where they have none in the table that it is of.
        CanonicalType type = found.type().get();
        boolean padded = type.isWritten()
                && against.map(ColumnTypes::of)
                        .or(() -> like)
                        .flatMap(types -> types.of(name))
                        .filter(CanonicalType::padded)
                        .isPresent();
        return padded ? found.read(type.writtenPadded()) : found;
    }

    private List<Hashed> columns(TableShape shape, List<ColumnShape> keyColumns) {
        return shape.columns().stream()
                .filter(c -> keyColumns.stream().anyMatch(k -> k.name().equals(c.name()))
                        || leaveOut.stream().noneMatch(g -> g.includes(c)))
                .map(c -> column(shape, c.name()))
                .map(c -> {
                    CanonicalType type = c.type().orElseThrow();
                    CanonicalType read =
                            type.isWritten() ? like.flatMap(l -> l.of(c.name())).orElse(type) : type;
                    return new Hashed(c, read.kind(), read.digits());
                })
                .toList();
    }

    /** The columns of a file, as they are here. */
    private List<Hashed> columnsOf(TableShape shape, ChecksumFile file) {
        return file.head().columns().stream()
                .map(c -> {
                    ColumnShape column = column(shape, c.name());
                    CanonicalType type = column.type().orElseThrow();
                    // Of text, the file has the hash of its letters, whatever they say.
                    Kind common = CanonicalType.common(type, CanonicalType.of(c.kind()))
                            .filter(k -> k == c.kind() || c.kind() != Kind.TEXT)
                            .orElseThrow(() -> new ToolException(
                                    ErrorKind.USAGE,
                                    "a column of another type has no checksum in common",
                                    shape.name() + "." + c.name() + " is " + word(type.kind()) + " here and "
                                            + word(c.kind()) + " there",
                                    c.kind() == Kind.TEXT
                                            ? "make the file's checksums like this table, or those of this table first"
                                            : "leave it out on both sides"));
                    return new Hashed(column, common, Math.min(type.digits(), c.digits()));
                })
                .toList();
    }

    private static String word(Kind kind) {
        return kind.name().toLowerCase(Locale.ROOT);
    }

    private static List<Integer> differing(ChecksumFile here, ChecksumFile there) {
        return IntStream.range(0, here.ranges().size())
                .filter(i -> !here.sums().get(i).proves(there.sums().get(i)))
                .boxed()
                .toList();
    }

    /** Rows on the side with more of them, over ranges that differ. */
    public static long rowsAtStake(Result result) {
        return result.differing().stream()
                .mapToLong(i -> Math.max(
                        result.here().sums().get(i).rows(),
                        result.there()
                                .map(f -> f.sums().get(i))
                                .orElse(RangeSum.NOTHING)
                                .rows()))
                .sum();
    }
}
