package sharptally.spark;

import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Iterator;
import java.util.OptionalInt;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.Json;
import sharptally.formats.value.FindingJson;
import sharptally.spark.send.Sent;
import sharptally.spark.work.MergeTask;

/**
 * Takes in what executors found, a part after the other. A part counts from when its result has come, which is behind all of its
 * findings; whatever an executor did that was lost, or came second, never comes here.
 */
final class PartResults {
    private final PartKeeper keeper;
    private final FindingJson json;

    PartResults(TableMatch match, PartKeeper keeper) {
        this.keeper = keeper;
        this.json = new FindingJson(match);
    }

    /** Takes in one part whole. */
    RangeResult take(int part, Iterator<byte[]> chunks) {
        Findings in = new Findings(chunks);
        try (PartKeeper.Sink sink = keeper.open(part);
                JsonParser lines = Json.MAPPER.getFactory().createParser(in)) {
            while (lines.nextToken() != null) {
                sink.accept(json.read(lines));
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        RangeResult result = Sent.result(new String(in.result, StandardCharsets.UTF_8));
        keeper.finish(part, result);
        return result;
    }

    /** The findings of one part; its result is known at their end. */
    private static final class Findings extends InputStream {
        private final Iterator<byte[]> chunks;
        private byte[] chunk = new byte[0];
        private int at;
        private byte[] result = new byte[0];

        Findings(Iterator<byte[]> chunks) {
            this.chunks = chunks;
        }

        private boolean fill() {
            while (at == chunk.length && result.length == 0) {
                byte[] next = chunks.next();
                if (next[0] == MergeTask.RESULT) {
                    result = java.util.Arrays.copyOfRange(next, 1, next.length);
                } else {
                    chunk = next;
                    at = 1;
                }
            }
            return at < chunk.length;
        }

        private OptionalInt one() {
            return fill() ? OptionalInt.of(chunk[at++] & 0xFF) : OptionalInt.empty();
        }

        @Override
        public int read() {
            return one().orElse(-1);
        }

        @Override
        public int read(byte[] into, int from, int length) {
            if (!fill()) {
                return -1;
            }
            int count = Math.min(length, chunk.length - at);
            System.arraycopy(chunk, at, into, from, count);
            at += count;
            return count;
        }
    }
}
