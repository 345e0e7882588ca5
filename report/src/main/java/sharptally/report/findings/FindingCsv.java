package sharptally.report.findings;

import com.fasterxml.jackson.core.io.JsonStringEncoder;
import com.fasterxml.jackson.databind.SequenceWriter;
import com.fasterxml.jackson.dataformat.csv.CsvGenerator;
import com.fasterxml.jackson.dataformat.csv.CsvMapper;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;

/**
 * One line per differing value: table, kind, key, column, and for either side the type of the value and the value. The
 * type tells NULL, empty text, and no such row apart; and where the row stands on either side, if that is known. A text with control characters, at which readers of such files stumble,
 * is written with escapes as in JSON, and its type is {@code text-escaped}.
 */
final class FindingCsv implements FindingFormat {
    /** All but tabs and line ends, which stand in quotes. */
    private static final Pattern CONTROL = Pattern.compile("[\\x00-\\x08\\x0B\\x0C\\x0E-\\x1F\\x7F]");

    private final FindingFilter filter;
    private final SequenceWriter out;

    FindingCsv(FindingFilter filter, OutputStream out) throws IOException {
        this.filter = filter;
        this.out = CsvMapper.builder()
                .enable(CsvGenerator.Feature.STRICT_CHECK_FOR_QUOTING)
                .build()
                .writer()
                .writeValues(out);
        this.out.write(FindingList.COLUMNS);
    }

    @Override
    public void begin(TableMatch match) {}

    @Override
    public void finding(TableMatch match, Finding finding) throws IOException {
        String key = escaped(FindingFilter.keyText(finding.key()));
        if (finding instanceof Finding.Repeated repeated) {
            line(
                    match,
                    finding,
                    key,
                    "",
                    "rows",
                    Long.toString(repeated.inSource()),
                    "rows",
                    Long.toString(repeated.inTarget()));
        }
        for (FindingValues values : FindingValues.of(match, finding, filter)) {
            line(
                    match,
                    finding,
                    key,
                    values.column(),
                    type(values.source()),
                    text(values.source()),
                    type(values.target()),
                    text(values.target()));
        }
    }

    private void line(TableMatch match, Finding finding, String key, String column, String... sides)
            throws IOException {
        out.write(List.of(
                escaped(match.name()),
                finding.kind().word(),
                key,
                escaped(column),
                sides[0],
                sides[1],
                sides[2],
                sides[3],
                finding.positions().source().map(FindingCsv::escaped).orElse(""),
                finding.positions().target().map(FindingCsv::escaped).orElse("")));
    }

    private static String type(Optional<Value> value) {
        return value.map(v -> v.getClass().getSimpleName().toLowerCase(Locale.ROOT)
                        + (CONTROL.matcher(v.toString()).find() ? "-escaped" : ""))
                .orElse("");
    }

    private static String text(Optional<Value> value) {
        return value.filter(v -> !(v instanceof Value.Null))
                .map(Value::toString)
                .map(FindingCsv::escaped)
                .orElse("");
    }

    private static String escaped(String text) {
        return CONTROL.matcher(text).find()
                ? String.valueOf(JsonStringEncoder.getInstance().quoteAsString(text))
                : text;
    }

    @Override
    public void end() throws IOException {
        out.flush();
    }
}
