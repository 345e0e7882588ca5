package sharptally.api.job;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.FindingTables;
import sharptally.report.findings.PageRows;
import sharptally.report.findings.Redaction;
import sharptally.report.page.PaperReport;
import sharptally.report.page.Report;
import sharptally.report.page.RunWorkbook;

/**
 * Writes reports of a run. No half-written file is left.
 *
 * @param limit findings in a page or PDF at most; empty for as many as are handy there
 * @param printAll whether the page prints all findings that are on it
 */
public record ReportJob(
        RunFolder run, FindingFilter filter, Redaction redaction, Optional<Long> limit, boolean printAll) {
    private static final long ROWS_OF_PAGE = 20_000;
    private static final long ROWS_OF_PAPER = 2_000;

    private static final int RUNS_IN_CHART = 12;

    /** The forms of a report. */
    public enum Form {
        HTML,
        MD,
        CSV,
        JUNIT,
        PDF,
        XLSX;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * @return the files that were written
     * @throws ToolException when one can't be written
     */
    public List<Path> write(Set<Form> forms, Path folder) {
        Report report = new Report(run, filter, redaction, limit.orElse(ROWS_OF_PAGE), printAll, earlier());
        List<Path> written = new ArrayList<>();
        boolean csv = forms.contains(Form.CSV);
        for (Report.Form form : Report.Form.values()) {
            if (form != Report.Form.PAPER && forms.contains(Form.valueOf(form.name()))) {
                Path file = folder.resolve(form.file());
                boolean[] capped = {false};
                whole(file, out -> {
                    Writer text = new OutputStreamWriter(out, StandardCharsets.UTF_8);
                    PageRows found = report.write(form, text);
                    capped[0] = found.shown() < found.all();
                    text.flush();
                });
                csv |= capped[0];
                written.add(file);
            }
        }
        if (forms.contains(Form.PDF)) {
            Path file = folder.resolve("report.pdf");
            Report paper = new Report(run, filter, redaction, limit.orElse(ROWS_OF_PAPER), printAll, earlier());
            boolean[] capped = {false};
            whole(file, out -> {
                PageRows found = PaperReport.write(paper, out);
                capped[0] = found.shown() < found.all();
            });
            csv |= capped[0];
            written.add(file);
        }
        if (forms.contains(Form.XLSX)) {
            Path file = folder.resolve("report.xlsx");
            whole(file, out -> RunWorkbook.write(run, filter, redaction, out));
            written.add(file);
        }
        if (csv) {
            for (TableMatch match : run.matches()) {
                if (run.summaryOf(match).filter(m -> m.differences() > 0).isPresent()) {
                    Path file = folder.resolve("findings-csv").resolve(fileName(match) + ".csv");
                    whole(file, out -> FindingTables.write(run, match, filter, redaction, out));
                    written.add(file);
                }
            }
        }
        return written;
    }

    private static String fileName(TableMatch match) {
        return match.name().replaceAll("[^\\p{L}\\p{N}._-]", "_");
    }

    private List<RunSummary> earlier() {
        Path runs = run.folder().toAbsolutePath().getParent();
        List<RunSummary> all = RunFolder.all(
                        runs,
                        other -> (other.summary().canBeHeldAgainst(run.summary())
                                        || other.summary()
                                                .run()
                                                .equals(run.summary().run()))
                                && other.summary().run().compareTo(run.summary().run()) <= 0)
                .stream()
                .map(each -> each.asCompared().summary())
                .toList();
        return all.subList(Math.max(0, all.size() - RUNS_IN_CHART), all.size());
    }

    private interface Content {
        void write(OutputStream out) throws IOException;
    }

    private static void whole(Path file, Content content) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            Files.createDirectories(file.toAbsolutePath().getParent());
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(draft))) {
                content.write(out);
            }
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException | UncheckedIOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the report",
                    file + " (" + e.getMessage() + ")",
                    Hint.ROOM_FOR_OUTPUT,
                    e);
        } finally {
            try {
                Files.deleteIfExists(draft);
            } catch (IOException e) {
                // the failure to write is told already
            }
        }
    }
}
