package sharptally.report.findings;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import de.siegmar.fastcsv.writer.QuoteStrategies;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.types.Value;
import sharptally.formats.run.RunFolder;

/**
 * The rows that differ, whole, as CSV files of either side: all compared columns, NULL as nothing between two commas, empty
 * text in quotes, so that they can be read back as what they were.
 */
public final class RowsOut {
    private final Redaction redaction;
    private final Path folder;
    private final List<Path> files = new ArrayList<>();
    private long tooLong;

    private RowsOut(Redaction redaction, Path folder) {
        this.redaction = redaction;
        this.folder = folder;
    }

    /**
     * What was written.
     *
     * @param tooLong how many values of changed rows are not in them, as they are too long to be kept with a run
     */
    public record Written(List<Path> files, long tooLong) {}

    /**
     * @param folder is made where it is not there; a file of the same name in it is written over
     * @throws ToolException when it can't be written
     */
    public static Written write(RunFolder run, Redaction redaction, Path folder) {
        RowsOut out = new RowsOut(redaction, folder);
        try {
            Files.createDirectories(folder);
            for (TableMatch match : run.matches()) {
                if (run.summaryOf(match).filter(s -> s.differences() > 0).isPresent()) {
                    for (Side side : Side.values()) {
                        out.write(run, match, side);
                    }
                }
            }
            return new Written(out.files, out.tooLong);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the rows that differ",
                    folder + " (" + e.getMessage() + ")",
                    Hint.ROOM_FOR_OUTPUT,
                    e);
        }
    }

    private void write(RunFolder run, TableMatch match, Side side) throws IOException {
        Path file = folder.resolve(match.name().replaceAll("[^\\p{L}\\p{N}._ -]", "_") + "." + side + ".csv");
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            write(run, match, side, file, draft);
        } finally {
            Files.deleteIfExists(draft);
        }
    }

    private void write(RunFolder run, TableMatch match, Side side, Path file, Path draft) throws IOException {
        long rows = 0;
        try (CsvWriter out = CsvWriter.builder()
                        .quoteStrategy(QuoteStrategies.EMPTY)
                        .lineDelimiter(LineDelimiter.LF)
                        .build(draft);
                RunFolder.Findings findings = run.findings(match)) {
            out.writeRecord(match.pairs().stream()
                    .map(p ->
                            side == Side.SOURCE ? p.source().name() : p.target().name())
                    .toList());
            for (Optional<Finding> next = findings.next(); next.isPresent(); next = findings.next()) {
                Optional<@Nullable String[]> row = row(match, redaction.of(next.get()), side);
                if (row.isPresent()) {
                    out.writeRecord(row.get());
                    rows++;
                }
            }
        }
        if (rows > 0) {
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
            files.add(file);
        }
    }

    private Optional<@Nullable String[]> row(TableMatch match, Finding finding, Side side) {
        if (finding instanceof Finding.Missing missing && side == Side.SOURCE) {
            return Optional.of(texts(missing.row(), match.pairs()));
        } else if (finding instanceof Finding.Extra extra && side == Side.TARGET) {
            return Optional.of(texts(extra.row(), match.pairs()));
        } else if (finding instanceof Finding.Changed changed) {
            @Nullable String[] row = new @Nullable String[match.pairs().size()];
            boolean[] known = new boolean[row.length];
            List<Value> key = side == Side.SOURCE ? changed.key() : changed.targetKey();
            for (int i = 0; i < key.size(); i++) {
                row[match.key().get(i)] = text(key.get(i));
                known[match.key().get(i)] = true;
            }
            for (List<Difference> some : List.of(changed.differences(), changed.same())) {
                for (Difference each : some) {
                    row[each.pair()] = text(side == Side.SOURCE ? each.source() : each.target());
                    known[each.pair()] = true;
                }
            }
            tooLong += IntStream.range(0, known.length).filter(i -> !known[i]).count();
            return Optional.of(row);
        }
        return Optional.empty();
    }

    private static @Nullable String[] texts(List<Value> row, List<ColumnPair> pairs) {
        @Nullable String[] texts = new @Nullable String[pairs.size()];
        Arrays.setAll(texts, i -> text(row.get(i)));
        return texts;
    }

    private static @Nullable String text(Value value) {
        return value instanceof Value.Null
                ? null
                : value instanceof Value.Bytes bytes
                        ? "\\x" + HexFormat.of().formatHex(bytes.value())
                        : value.toString();
    }
}
