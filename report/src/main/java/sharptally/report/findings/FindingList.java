package sharptally.report.findings;

import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.Style;
import sharptally.report.text.TextWidth;

/** Lists findings of a run, filtered and up to a limit. */
public final class FindingList {
    /** The forms in which findings can be listed. */
    public enum Form {
        /** A line per row. */
        ROWS,
        /** A line per value. */
        VALUES,
        /** A block per row, with whole values. */
        DETAIL,
        CSV,
        JSONL
    }

    /** What stands in the columns of a list as CSV. */
    public static final List<String> COLUMNS = List.of(
            "table",
            "kind",
            "key",
            "column",
            "source_type",
            "source_value",
            "target_type",
            "target_value",
            "source_at",
            "target_at");

    /** How many findings passed the filter, and how many of those were listed. */
    public record Listed(long all, long shown) {}

    private FindingList() {}

    /**
     * How findings are listed.
     *
     * @param limit findings to list at most; the others are counted
     * @param columns width of the terminal, for text
     */
    public record Layout(Form form, long limit, Style style, int columns) {}

    public static Listed write(
            RunFolder run, FindingFilter filter, Redaction redaction, Layout layout, OutputStream out) {
        Form form = layout.form;
        long limit = layout.limit;
        Style style = layout.style;
        int columns = layout.columns;
        try {
            return switch (form) {
                case ROWS, VALUES, DETAIL -> {
                    PrintWriter writer = new PrintWriter(out, false, java.nio.charset.StandardCharsets.UTF_8);
                    FindingFormat format = form == Form.ROWS
                            ? new FindingText(filter, style, columns, writer)
                            : form == Form.VALUES
                                    ? new FindingPivot(filter, style, columns, writer)
                                    : new FindingDetail(filter, redaction, style, columns, writer);
                    Listed listed = list(run, filter, redaction, limit, format);
                    writer.flush();
                    yield listed;
                }
                case CSV -> list(run, filter, redaction, limit, new FindingCsv(filter, out));
                case JSONL -> list(run, filter, redaction, limit, new FindingLines(out));
            };
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** One row with its whole values, as lines for a terminal. */
    public static void detail(
            TableMatch match, Finding finding, Redaction redaction, Style style, int columns, OutputStream out) {
        PrintWriter writer = new PrintWriter(out, false, java.nio.charset.StandardCharsets.UTF_8);
        new FindingDetail(FindingFilter.ALL, redaction, style, columns, writer).finding(match, redaction.of(finding));
        writer.flush();
    }

    /** What differs in one row, on one line. */
    public static String summary(TableMatch match, Finding finding) {
        if (finding instanceof Finding.Repeated repeated) {
            return repeated.inSource() + " and " + repeated.inTarget() + " rows";
        }
        return FindingValues.of(match, finding, FindingFilter.ALL).stream()
                .map(v -> TextWidth.harmless(v.column()) + " "
                        + Stream.of(v.source(), v.target())
                                .flatMap(Optional::stream)
                                .map(v::shown)
                                .collect(Collectors.joining(" \u2192 ")))
                .collect(Collectors.joining(", "));
    }

    private static Listed list(
            RunFolder run, FindingFilter filter, Redaction redaction, long limit, FindingFormat format)
            throws IOException {
        long all = 0;
        long shown = 0;
        for (TableMatch match : run.matches()) {
            if (!filter.wants(match)
                    || !filter.hasColumns(match)
                    || run.summaryOf(match).isEmpty()) {
                continue;
            }
            long before = all;
            Optional<Long> told = filter.wantsAllRows() ? run.count(match) : Optional.empty();
            boolean begun = false;
            try (RunFolder.Findings findings = run.findings(match)) {
                // Those that are not listed are counted: one by one where not all are wanted.
                while (told.isEmpty() || all < limit) {
                    Optional<Finding> next = findings.next();
                    if (next.isEmpty()) {
                        break;
                    }
                    if (!filter.wants(match, next.get()) || all++ >= limit) {
                        continue;
                    }
                    if (!begun) {
                        begun = true;
                        format.begin(match);
                    }
                    format.finding(match, redaction.of(next.get()));
                    shown++;
                }
            }
            all = told.map(count -> before + count).orElse(all);
        }
        format.end();
        return new Listed(all, shown);
    }
}
