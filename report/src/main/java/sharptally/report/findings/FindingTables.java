package sharptally.report.findings;

import com.fasterxml.jackson.databind.SequenceWriter;
import com.fasterxml.jackson.dataformat.csv.CsvGenerator;
import com.fasterxml.jackson.dataformat.csv.CsvMapper;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Set;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;

/** The findings of one table as CSV for people, who open it with a spreadsheet: no cell begins like a formula. */
public final class FindingTables {
    private static final Set<Character> FORMULA = Set.of('=', '+', '-', '@', '\t', '\r');

    private FindingTables() {}

    /** A line per value that differs: kind, key, column, source, target. */
    public static void write(
            RunFolder run, TableMatch match, FindingFilter filter, Redaction redaction, OutputStream out)
            throws IOException {
        SequenceWriter lines = CsvMapper.builder()
                .enable(CsvGenerator.Feature.STRICT_CHECK_FOR_QUOTING)
                .build()
                .writer()
                .writeValues(out);
        lines.write(List.of("kind", "key", "column", "source", "target"));
        run.forEach(match, found -> {
            if (!filter.wants(match, found)) {
                return;
            }
            Finding finding = redaction.of(found);
            String key = safe(FindingFilter.keyText(finding.key()));
            String kind = finding.kind().word();
            try {
                if (finding instanceof Finding.Repeated repeated) {
                    lines.write(List.of(
                            kind,
                            key,
                            "(rows)",
                            Long.toString(repeated.inSource()),
                            Long.toString(repeated.inTarget())));
                }
                for (FindingValues values : FindingValues.of(match, finding, filter)) {
                    lines.write(List.of(
                            kind,
                            key,
                            safe(values.column()),
                            safe(values.source().map(values::shown).orElse("")),
                            safe(values.target().map(values::shown).orElse(""))));
                }
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        lines.flush();
    }

    /** Numbers stay as they are; other text that a spreadsheet would work out gets an apostrophe before it. */
    private static String safe(String text) {
        boolean formula = !text.isEmpty() && FORMULA.contains(text.charAt(0));
        return formula && !text.matches("[-+]?[0-9.]+(E[-+]?[0-9]+)?") ? "'" + text : text;
    }
}
