package sharptally.engines.files.write;

import com.github.luben.zstd.ZstdOutputStream;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorOutputStream;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Unpacked;

/** A file of lines written anew: some lines replaced, some left out, some put in, and all others byte for byte as they are. */
public final class RewrittenFile {
    private static final int BUFFER_BYTES = 1 << 16;

    private final Path file;
    private final Charset charset;
    private final Map<Long, Edit> edits = new HashMap<>();
    private final Map<Long, List<String>> insertions = new HashMap<>();
    private final List<String> last = new ArrayList<>();

    /** Makes what replaces lines out of what they hold. */
    public interface Made {
        /** Empty where they are left out. */
        Optional<String> of(String raw);
    }

    private record Edit(long lastLine, Made made) {}

    public RewrittenFile(Path file, Charset charset) {
        this.file = file;
        this.charset = charset;
    }

    /** From one line to another, both included. */
    public void replace(long firstLine, long lastLine, Made made) {
        edits.put(firstLine, new Edit(lastLine, made));
    }

    public void insertBefore(long line, String text) {
        insertions.computeIfAbsent(line, l -> new ArrayList<>()).add(text);
    }

    public void append(String text) {
        last.add(text);
    }

    /** Takes back where lines were to be put in: all of them come last. */
    public void appendAll() {
        insertions.keySet().stream().sorted().forEach(l -> last.addAll(insertions.get(l)));
        insertions.clear();
    }

    /** How many bytes the end of a line, or any ASCII letter, takes; 0 for encodings of which that can't be told. */
    private int unit() {
        byte[] newline = "\n".getBytes(charset);
        if (newline.length == 1 && newline[0] == '\n') {
            return 1;
        }
        return charset.equals(StandardCharsets.UTF_16LE) || charset.equals(StandardCharsets.UTF_16BE) ? 2 : 0;
    }

    public void write(Path to) throws IOException {
        int unit = unit();
        if (unit == 0) {
            throw FileProblem.of(file, "a file in " + charset.name() + " can't be rewritten", "turn it into UTF-8");
        }
        try (InputStream in = new BufferedInputStream(Unpacked.open(file), BUFFER_BYTES);
                OutputStream out = packed(to)) {
            Lines lines = new Lines(in, unit, charset.equals(StandardCharsets.UTF_16LE));
            byte[] end = "\n".getBytes(charset);
            boolean ended = true;
            long number = 1;
            for (Optional<byte[]> line = lines.next(); line.isPresent(); line = lines.next()) {
                byte[] terminator = lines.terminator();
                if (number == 1 && terminator.length > 0) {
                    end = terminator;
                }
                for (String text : insertions.getOrDefault(number, List.of())) {
                    out.write(encoded(text));
                    out.write(end);
                }
                Edit edit = edits.get(number);
                if (edit == null) {
                    out.write(line.get());
                    out.write(terminator);
                    ended = terminator.length > 0;
                } else {
                    ByteArrayOutputStream raw = new ByteArrayOutputStream();
                    raw.write(line.get());
                    while (number < edit.lastLine) {
                        raw.write(terminator);
                        raw.write(lines.next().orElseThrow());
                        terminator = lines.terminator();
                        number++;
                    }
                    Optional<String> made = edit.made.of(raw.toString(charset));
                    if (made.isPresent()) {
                        out.write(encoded(made.get()));
                        out.write(terminator);
                        ended = terminator.length > 0;
                    }
                }
                number++;
            }
            for (String text : last) {
                if (!ended) {
                    out.write(end);
                }
                out.write(encoded(text));
                out.write(end);
                ended = true;
            }
        }
    }

    /** Letters that the file's encoding lacks are not replaced by others. */
    private byte[] encoded(String text) {
        if (!charset.newEncoder().canEncode(text)) {
            throw FileProblem.of(
                    file,
                    "a line can't be written in the encoding of this file, " + charset.name() + ": "
                            + text.lines().findFirst().orElse(""),
                    "leave the row out, or turn the file into UTF-8 and compare again");
        }
        return text.getBytes(charset);
    }

    private static OutputStream packed(Path to) throws IOException {
        OutputStream raw = new BufferedOutputStream(Files.newOutputStream(to), BUFFER_BYTES);
        String name = to.getFileName().toString().replaceAll("\\.draft$", "");
        return switch (Unpacked.ending(name)) {
            case ".gz" -> new GZIPOutputStream(raw, BUFFER_BYTES);
            case ".zst" -> new ZstdOutputStream(raw);
            case ".bz2" -> new BZip2CompressorOutputStream(raw);
            case ".zip" -> {
                ZipOutputStream zip = new ZipOutputStream(raw);
                zip.putNextEntry(new ZipEntry(name.replaceAll("(?i)\\.zip$", "")));
                yield zip;
            }
            default -> raw;
        };
    }

    /** Lines as bytes, each with what ends it: CR, LF, or both. */
    private static final class Lines {
        private final InputStream in;
        private final int unit;
        private final boolean low;
        private byte[] terminator = new byte[0];
        private Optional<byte[]> ahead = Optional.empty();

        Lines(InputStream in, int unit, boolean low) {
            this.in = in;
            this.unit = unit;
            this.low = low;
        }

        private byte[] read() throws IOException {
            if (ahead.isPresent()) {
                byte[] one = ahead.get();
                ahead = Optional.empty();
                return one;
            }
            return in.readNBytes(unit);
        }

        private boolean is(byte[] one, char wanted) {
            return one.length == 1
                    ? one[0] == wanted
                    : one.length == 2 && one[low ? 0 : 1] == wanted && one[low ? 1 : 0] == 0;
        }

        byte[] terminator() {
            return terminator;
        }

        /** Without its end; empty at the end of the file. */
        Optional<byte[]> next() throws IOException {
            ByteArrayOutputStream line = new ByteArrayOutputStream(256);
            byte[] one = read();
            if (one.length == 0) {
                return Optional.empty();
            }
            while (one.length > 0 && !is(one, '\n') && !is(one, '\r')) {
                line.write(one);
                one = read();
            }
            terminator = one;
            if (is(one, '\r')) {
                byte[] behind = read();
                if (is(behind, '\n')) {
                    terminator = Arrays.copyOf(one, 2 * unit);
                    System.arraycopy(behind, 0, terminator, unit, unit);
                } else {
                    ahead = Optional.of(behind);
                }
            }
            return Optional.of(line.toByteArray());
        }
    }
}
