package sharptally.report.page;

import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.ColumnCauses;
import sharptally.report.findings.FindingCells;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.Redaction;
import sharptally.report.text.RunText;
import sharptally.report.text.VerdictText;

/**
 * A run as a workbook: a sheet for the summary, one for the columns that differ, and one for the findings of each table that
 * has some, or several where they are more than a sheet holds. Numbers and dates are such, but for those that a spreadsheet
 * can't hold: numbers of over 15 digits and dates before March 1900 are text. Text is never worked out, whatever it begins
 * with.
 */
public final class RunWorkbook {
    /** Rows of a sheet, by the format. */
    private static final int MAX_ROWS = 1_048_576;

    private static final int MAX_TEXT = 32_767;
    private static final int MAX_DIGITS = 15;
    private static final int MAX_NAME = 31;
    private static final LocalDate FIRST_SURE_DAY = LocalDate.of(1900, 3, 1);
    private static final String SOFT = "5c6964";

    private final Workbook book;
    private final RunFolder run;
    private final FindingFilter filter;
    private final Redaction redaction;
    private final int rowsPerSheet;
    private final Set<String> names = new HashSet<>();

    private RunWorkbook(Workbook book, RunFolder run, FindingFilter filter, Redaction redaction, int rowsPerSheet) {
        this.book = book;
        this.run = run;
        this.filter = filter;
        this.redaction = redaction;
        this.rowsPerSheet = rowsPerSheet;
    }

    /** Writes the workbook, sheet by sheet. */
    public static void write(RunFolder run, FindingFilter filter, Redaction redaction, OutputStream out)
            throws IOException {
        write(run, filter, redaction, MAX_ROWS, out);
    }

    static void write(RunFolder run, FindingFilter filter, Redaction redaction, int rowsPerSheet, OutputStream out)
            throws IOException {
        RunSummary summary = HiddenRun.of(run.summary(), redaction);
        // The version that a file may name has to be of this form.
        try (Workbook book = new Workbook(out, "Sharp Tally", version(summary.tool()))) {
            RunWorkbook workbook = new RunWorkbook(book, run, filter, redaction, rowsPerSheet);
            workbook.summary(summary);
            workbook.columns();
            for (TableMatch match : run.matches()) {
                if (filter.wants(match)
                        && run.summaryOf(match).filter(m -> m.lines() > 0).isPresent()) {
                    workbook.findings(match);
                }
            }
        }
    }

    private static String version(String tool) {
        Matcher numbers = Pattern.compile("(\\d{1,2}\\.\\d{1,4})(\\D.*)?").matcher(tool);
        return numbers.matches() ? numbers.group(1) : "0.0";
    }

    private Worksheet sheet(String wanted) {
        String plain = wanted.replaceAll("[\\[\\]:*?/\\\\\\x00-\\x1F]", "_").replaceAll("^'|'$", "_");
        String name = plain.substring(0, Math.min(MAX_NAME, plain.length()));
        for (int i = 2; !names.add(name.toLowerCase(Locale.ROOT)); i++) {
            String end = " (" + i + ")";
            name = plain.substring(0, Math.min(MAX_NAME - end.length(), plain.length())) + end;
        }
        return book.newWorksheet(name);
    }

    private static void heading(Worksheet sheet, int row, List<String> words) {
        for (int i = 0; i < words.size(); i++) {
            sheet.value(row, i, words.get(i));
            sheet.style(row, i).bold().set();
        }
    }

    private void summary(RunSummary summary) throws IOException {
        Worksheet sheet = sheet("Summary");
        List<String> verdict = VerdictText.lines(summary);
        int row = 0;
        text(sheet, row, 0, verdict.get(verdict.size() - 1));
        sheet.style(row, 0).bold().set();
        row += 2;
        for (Map<String, String> fact : Proof.run(summary)) {
            text(sheet, row, 0, fact.getOrDefault("name", ""));
            text(sheet, row, 1, fact.getOrDefault("value", ""));
            row++;
        }
        row++;
        heading(
                sheet,
                row++,
                List.of(
                        "table",
                        "verdict",
                        "source rows",
                        "target rows",
                        "same",
                        "changed",
                        "missing",
                        "extra",
                        "repeated",
                        "method",
                        "seconds",
                        "key",
                        "columns compared",
                        "left out on request",
                        "rows",
                        "notes"));
        for (MatchSummary match : summary.matches()) {
            match(sheet, row++, match);
        }
        for (var lone : summary.lone()) {
            text(sheet, row, 0, lone.table());
            text(
                    sheet,
                    row,
                    1,
                    lone.untold().map(why -> "can't be told: " + why).orElse(lone.word()));
            row++;
        }
        if (!summary.unmet().isEmpty()) {
            row++;
            heading(sheet, row++, List.of("constraints not met", "side", "rows", "what", "such as", "mended by"));
            for (RunSummary.Unmet unmet : summary.unmet()) {
                text(sheet, row, 0, unmet.table());
                text(sheet, row, 1, unmet.side().toString());
                number(sheet, row, 2, BigDecimal.valueOf(unmet.rows()));
                text(sheet, row, 3, unmet.what());
                text(sheet, row, 4, String.join("; ", unmet.examples()));
                text(sheet, row, 5, unmet.mend().orElse(""));
                row++;
            }
        }
        if (!summary.declaredOtherwise().isEmpty()) {
            row++;
            heading(sheet, row++, List.of("declared otherwise", "what", "source", "target", "what it means"));
            for (RunSummary.DeclaredOtherwise one : summary.declaredOtherwise()) {
                text(sheet, row, 0, one.table());
                text(sheet, row, 1, one.what());
                text(sheet, row, 2, one.source());
                text(sheet, row, 3, one.target());
                text(sheet, row, 4, one.meaning());
                row++;
            }
        }
        if (!summary.accepted().isEmpty()) {
            row++;
            heading(sheet, row++, List.of("accepted for now", "which", "rows", "reason", "owner", "until", "state"));
            for (RunSummary.Accepted entry : summary.accepted()) {
                text(sheet, row, 0, entry.table());
                text(sheet, row, 1, entry.what());
                number(sheet, row, 2, BigDecimal.valueOf(entry.rows()));
                text(sheet, row, 3, entry.reason());
                text(sheet, row, 4, entry.owner());
                text(sheet, row, 5, entry.until());
                text(sheet, row, 6, entry.state().toString());
                row++;
            }
        }
        row++;
        for (String note : RunText.notes(summary)) {
            text(sheet, row++, 0, note);
        }
        sheet.width(0, 30);
        sheet.width(1, 24);
        sheet.finish();
    }

    private static void match(Worksheet sheet, int row, MatchSummary match) {
        text(sheet, row, 0, match.name());
        text(sheet, row, 1, VerdictText.word(match));
        if (match.state() == RunState.COMPLETE) {
            long[] counts = {
                match.sourceRows(),
                match.targetRows(),
                match.same(),
                match.changed(),
                match.missing(),
                match.extra(),
                match.repeated()
            };
            for (int i = 0; i < counts.length; i++) {
                number(sheet, row, i + 2, BigDecimal.valueOf(counts[i]));
            }
        } else {
            text(sheet, row, 2, "not finished: " + match.failure().orElse(""));
        }
        text(sheet, row, 9, match.method());
        sheet.value(row, 10, match.seconds());
        text(sheet, row, 11, match.key().isEmpty() ? "none" : String.join(", ", match.key()));
        sheet.value(row, 12, match.columns());
        text(sheet, row, 13, String.join(", ", match.leftOut()));
        text(sheet, row, 14, match.narrowed().isEmpty() ? "all" : String.join("; ", match.narrowed()));
        List<String> notes = new ArrayList<>(match.notCompared());
        match.missingColumns().forEach(c -> notes.add("missing column " + c));
        match.extraColumns().forEach(c -> notes.add("extra column " + c));
        text(sheet, row, 15, String.join("; ", notes));
    }

    private void columns() throws IOException {
        List<ColumnCauses> columns = redaction.ofColumns(ColumnCauses.of(run, filter));
        if (columns.isEmpty()) {
            return;
        }
        Worksheet sheet = sheet("Columns that differ");
        heading(
                sheet,
                0,
                List.of(
                        "table",
                        "column",
                        "rows",
                        "changed rows of the table",
                        "likely cause",
                        "first key",
                        "source",
                        "target"));
        int row = 1;
        for (ColumnCauses column : columns) {
            text(sheet, row, 0, column.table());
            text(sheet, row, 1, column.column());
            sheet.value(row, 2, column.rows());
            sheet.value(row, 3, column.changed());
            text(
                    sheet,
                    row,
                    4,
                    String.join(
                            "; ",
                            column.causes().stream()
                                    .map(c -> c.shown(column.rows()))
                                    .toList()));
            text(sheet, row, 5, column.key());
            text(sheet, row, 6, column.source());
            text(sheet, row, 7, column.target());
            row++;
        }
        sheet.freezePane(0, 1);
        sheet.finish();
    }

    /** Writes a table's findings, a line for each value, on as many sheets as they need. */
    private void findings(TableMatch match) throws IOException {
        List<String> key = match.keyPairs().stream().map(p -> p.source().name()).toList();
        Worksheet[] sheet = {null};
        int[] row = {0};
        try {
            run.forEach(match, found -> {
                if (!filter.wants(match, found)) {
                    return;
                }
                Finding finding = redaction.of(found);
                for (FindingCells cells : FindingCells.of(match, finding, filter)) {
                    if (sheet[0] == null || row[0] >= rowsPerSheet) {
                        finish(sheet[0]);
                        sheet[0] = begin(match, key);
                        row[0] = 1;
                    }
                    line(sheet[0], row[0]++, finding, cells, key.size());
                    if (row[0] % 1000 == 0) {
                        flush(sheet[0]);
                    }
                }
            });
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
        finish(sheet[0]);
    }

    private Worksheet begin(TableMatch match, List<String> key) {
        Worksheet sheet = sheet(match.name());
        List<String> words = new ArrayList<>(List.of("kind"));
        words.addAll(key);
        words.addAll(List.of("column", "source", "target"));
        heading(sheet, 0, words);
        sheet.freezePane(0, 1);
        return sheet;
    }

    private static void finish(Worksheet sheet) {
        try {
            if (sheet != null) {
                sheet.finish();
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void flush(Worksheet sheet) {
        try {
            sheet.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void line(Worksheet sheet, int row, Finding finding, FindingCells cells, int keys) {
        text(sheet, row, 0, finding.kind().word());
        for (int i = 0; i < keys; i++) {
            value(sheet, row, 1 + i, finding.key().get(i));
        }
        text(sheet, row, keys + 1, cells.column());
        cells.source().ifPresent(v -> value(sheet, row, keys + 2, v));
        cells.target().ifPresent(v -> value(sheet, row, keys + 3, v));
    }

    private static void value(Worksheet sheet, int row, int column, Value value) {
        if (value instanceof Value.Null) {
            sheet.value(row, column, "NULL");
            sheet.style(row, column).italic().fontColor(SOFT).set();
        } else if (value instanceof Value.Int number) {
            number(sheet, row, column, BigDecimal.valueOf(number.value()));
        } else if (value instanceof Value.Decimal number) {
            number(sheet, row, column, number.value());
        } else if (value instanceof Value.Double || value instanceof Value.Real) {
            real(sheet, row, column, value.toString());
        } else if (value instanceof Value.Bool bool) {
            sheet.value(row, column, bool.value());
        } else if (value instanceof Value.Date date && !date.value().isBefore(FIRST_SURE_DAY) && isHeld(date.value())) {
            sheet.value(row, column, date.value());
            sheet.style(row, column).format("yyyy-mm-dd").set();
        } else if (value instanceof Value.Timestamp time && isHeld(time.value())) {
            sheet.value(row, column, time.value());
            sheet.style(row, column).format("yyyy-mm-dd hh:mm:ss").set();
        } else {
            text(sheet, row, column, value.toString());
        }
    }

    private static boolean isHeld(LocalDate date) {
        return date.getYear() <= 9999;
    }

    /** Spreadsheets count days in binary fractions: what is finer than a second is not sure there. */
    private static boolean isHeld(LocalDateTime time) {
        return !time.toLocalDate().isBefore(FIRST_SURE_DAY) && isHeld(time.toLocalDate()) && time.getNano() == 0;
    }

    private static void number(Worksheet sheet, int row, int column, BigDecimal number) {
        BigDecimal bare = number.stripTrailingZeros();
        if (bare.precision() <= MAX_DIGITS && Math.abs(bare.scale()) < 100) {
            sheet.value(row, column, number);
        } else {
            text(sheet, row, column, number.toString());
        }
    }

    private static void real(Worksheet sheet, int row, int column, String number) {
        try {
            number(sheet, row, column, new BigDecimal(number));
        } catch (NumberFormatException e) {
            text(sheet, row, column, number);
        }
    }

    private static void text(Worksheet sheet, int row, int column, String text) {
        String safe = text.replaceAll("[\\x00-\\x08\\x0B\\x0C\\x0E-\\x1F\\uFFFE\\uFFFF]", "\uFFFD");
        String end = "… (" + safe.length() + " letters, cut)";
        sheet.inlineString(
                row, column, safe.length() <= MAX_TEXT ? safe : safe.substring(0, MAX_TEXT - end.length()) + end);
    }
}
