package sharptally.report.findings;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.OutputStream;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.Json;
import sharptally.formats.value.FindingJson;

/** One JSON object per finding and line: as in the run folder, and the table's name. */
final class FindingLines implements FindingFormat {
    private final JsonGenerator out;

    FindingLines(OutputStream out) throws IOException {
        this.out = Json.lines(out);
    }

    @Override
    public void begin(TableMatch match) {}

    @Override
    public void finding(TableMatch match, Finding finding) throws IOException {
        out.writeStartObject();
        out.writeStringField("table", match.name());
        new FindingJson(match).writeFields(out, finding);
        out.writeEndObject();
        out.writeRaw('\n');
    }

    @Override
    public void end() throws IOException {
        out.flush();
    }
}
