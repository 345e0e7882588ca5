package sharptally.spark.work;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Iterator;
import java.util.NoSuchElementException;
import org.apache.spark.api.java.function.FlatMapFunction2;
import scala.Tuple2;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.stream.RowMerge;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.formats.run.FindingsOut;
import sharptally.spark.rows.TaskEnd;
import sharptally.spark.send.Sent;

/**
 * Compares the rows of one part: sorted here, and merged as ever. What is found comes out as some chunks of lines, the result as
 * the last chunk, so that whoever takes a part to its end takes all of it, and once.
 */
public record MergeTask(SentMatch sent, String method)
        implements FlatMapFunction2<Iterator<Tuple2<Integer, byte[]>>, Iterator<Tuple2<Integer, byte[]>>, byte[]> {
    /** The first byte of a chunk. */
    public static final byte FINDINGS = 1;

    public static final byte RESULT = 2;
    private static final int CHUNK = 1 << 20;

    @Override
    public Iterator<byte[]> call(Iterator<Tuple2<Integer, byte[]>> ofSource, Iterator<Tuple2<Integer, byte[]>> ofTarget)
            throws IOException {
        TableMatch match = sent.read();
        Path file = Files.createTempFile(SentMatch.temporary(), "sharp-tally-findings-", ".jsonl");
        TaskEnd.run(() -> file.toFile().delete());
        RowMerge merge = SentMatch.merge(match);
        RangeResult result;
        try (FindingsOut out = FindingsOut.scratch(file, match);
                RowSource source = merge.sorted(rows(match, Side.SOURCE, ofSource), Side.SOURCE);
                RowSource target = merge.sorted(rows(match, Side.TARGET, ofTarget), Side.TARGET)) {
            result = merge.merge(merge.cast(source, Side.SOURCE), merge.cast(target, Side.TARGET), out, false, method);
        }
        return new Chunks(file, result);
    }

    private static RowSource rows(TableMatch match, Side side, Iterator<Tuple2<Integer, byte[]>> packs) {
        Iterator<byte[]> bytes = new Iterator<>() {
            @Override
            public boolean hasNext() {
                return packs.hasNext();
            }

            @Override
            public byte[] next() {
                return packs.next()._2();
            }
        };
        return RowPack.rows(bytes, match.readColumns(side).size());
    }

    static byte[] result(RangeResult result) {
        return chunk(RESULT, Sent.text(result).getBytes(StandardCharsets.UTF_8));
    }

    private static byte[] chunk(byte kind, byte[] content) {
        byte[] all = new byte[content.length + 1];
        all[0] = kind;
        System.arraycopy(content, 0, all, 1, content.length);
        return all;
    }

    /** What was written to a file, and the result behind it. */
    static final class Chunks implements Iterator<byte[]> {
        private final InputStream in;
        private final RangeResult result;
        private boolean ended;
        private boolean told;

        Chunks(Path file, RangeResult result) throws IOException {
            this.in = new BufferedInputStream(Files.newInputStream(file), CHUNK);
            this.result = result;
            TaskEnd.run(() -> close());
        }

        private void close() {
            try {
                in.close();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        @Override
        public boolean hasNext() {
            return !told;
        }

        @Override
        public byte[] next() {
            if (told) {
                throw new NoSuchElementException();
            }
            try {
                if (!ended) {
                    byte[] bytes = new byte[CHUNK];
                    int read = in.readNBytes(bytes, 0, CHUNK);
                    ended = read < CHUNK;
                    if (read > 0) {
                        return chunk(FINDINGS, Arrays.copyOf(bytes, read));
                    }
                }
                told = true;
                return result(result);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
