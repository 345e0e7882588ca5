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
import sharptally.report.page.Report;

/** Writes reports of a run. No half-written file is left. */
public record ReportJob(RunFolder run, FindingFilter filter, Redaction redaction, long rows) {
    private static final int RUNS_IN_CHART = 12;

    /** The forms of a report. */
    public enum Form {
        HTML,
        MD,
        CSV,
        JUNIT;

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
        Report report = new Report(run, filter, redaction, rows, earlier());
        List<Path> written = new ArrayList<>();
        boolean csv = forms.contains(Form.CSV);
        for (Report.Form form : Report.Form.values()) {
            if (forms.contains(Form.valueOf(form.name()))) {
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
                        other -> other.summary().isOfSameJob(run.summary())
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
