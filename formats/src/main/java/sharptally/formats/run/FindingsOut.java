package sharptally.formats.run;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import sharptally.core.compare.PartKeeper;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.formats.value.FindingJson;

/** Findings on their way to a file. Used by one thread. */
public final class FindingsOut implements PartKeeper.Sink {
    private final Path file;
    private final FindingJson json;
    private final FileChannel channel;
    private final JsonGenerator out;

    /** Whether the disk may hold what was here before. */
    private boolean changed;

    private final boolean kept;

    FindingsOut(Path file, FindingJson json) {
        this(file, json, true);
    }

    /** To a file that lives only as long as this process. */
    public static FindingsOut scratch(Path file, TableMatch match) {
        return new FindingsOut(file, new FindingJson(match), false);
    }

    private FindingsOut(Path file, FindingJson json, boolean kept) {
        this.kept = kept;
        this.file = file;
        this.json = json;
        try {
            changed = Files.exists(file) && Files.size(file) > 0;
            channel = FileChannel.open(
                    file, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING);
            out = Json.lines(Channels.newOutputStream(channel));
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    @Override
    public void accept(Finding finding) {
        try {
            json.write(out, finding);
            out.writeRaw('\n');
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    @Override
    public void restart() {
        try {
            out.flush();
            changed = true;
            channel.truncate(0);
            channel.position(0);
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    /** What was written outlives a loss of power from now on. */
    @Override
    public void close() {
        try (channel) {
            out.flush();
            if (kept && (changed || channel.position() > 0)) {
                channel.force(false);
            }
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }
}
