package sharptally.report.findings;

import com.fasterxml.jackson.core.JsonFactoryBuilder;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.json.JsonWriteFeature;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Optional;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.Positions;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;
import sharptally.formats.value.FindingJson;

/**
 * Findings as one JSON array for a page: per row the place of its table, its kind, its key as text, what selects it, and
 * per column name, source and target. Safe within a script element, as no letter of a tag is left in it.
 *
 * @param json the array
 * @param shown findings in it
 * @param all findings that were wanted
 */
public record PageRows(String json, long shown, long all) {
    /**
     * @param limit findings to put in at most, the first of each table in turn
     */
    public static PageRows of(RunFolder run, FindingFilter filter, Redaction redaction, long limit) {
        StringWriter text = new StringWriter();
        long[] all = {0};
        long[] shown = {0};
        try (JsonGenerator out = new JsonFactoryBuilder()
                .enable(JsonWriteFeature.ESCAPE_NON_ASCII)
                .build()
                .createGenerator(text)) {
            out.writeStartArray();
            List<TableMatch> matches = run.matches();
            for (int i = 0; i < matches.size(); i++) {
                int place = i;
                TableMatch match = matches.get(i);
                FindingJson form = new FindingJson(match);
                run.forEach(match, finding -> {
                    if (filter.wants(match, finding) && all[0]++ < limit) {
                        shown[0]++;
                        Optional<FindingJson> identity = redaction.isHiding() ? Optional.empty() : Optional.of(form);
                        write(out, place, match, identity, redaction.of(finding), filter);
                    }
                });
            }
            out.writeEndArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return new PageRows(text.toString().replace("<", "\\u003c").replace("&", "\\u0026"), shown[0], all[0]);
    }

    private static void write(
            JsonGenerator out,
            int place,
            TableMatch match,
            Optional<FindingJson> form,
            Finding finding,
            FindingFilter filter) {
        try {
            out.writeStartArray();
            out.writeNumber(place);
            out.writeString(finding.kind().word());
            out.writeString(FindingFilter.keyText(finding.key()));
            if (form.isEmpty() || finding instanceof Finding.Repeated) {
                out.writeNull();
            } else {
                out.writeString(form.get().identity(finding).toString());
            }
            out.writeStartArray();
            if (finding instanceof Finding.Repeated repeated) {
                column(out, "(rows)", Long.toString(repeated.inSource()), Long.toString(repeated.inTarget()));
            }
            if (!finding.positions().equals(Positions.UNKNOWN)) {
                column(
                        out,
                        "(at)",
                        finding.positions().source().orElse(""),
                        finding.positions().target().orElse(""));
            }
            for (FindingValues values : FindingValues.of(match, finding, filter)) {
                column(
                        out,
                        values.column(),
                        values.source().map(values::shown).orElse("-"),
                        values.target().map(values::shown).orElse("-"));
            }
            out.writeEndArray();
            out.writeEndArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void column(JsonGenerator out, String name, String source, String target) throws IOException {
        out.writeStartArray();
        out.writeString(name);
        out.writeString(source);
        out.writeString(target);
        out.writeEndArray();
    }
}
