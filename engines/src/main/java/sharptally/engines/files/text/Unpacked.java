package sharptally.engines.files.text;

import com.github.luben.zstd.ZstdInputStream;
import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorInputStream;

/** The bytes of a file, unpacked where its name says that it is compressed. */
public final class Unpacked {
    /** Endings that say how a file is compressed. */
    public static final List<String> ENDINGS = List.of(".gz", ".zst", ".bz2", ".zip");

    private static final int BUFFER_BYTES = 1 << 16;
    /** Beyond so many bytes, no file of rows is that much smaller when it is compressed. */
    private static final long HARMLESS_BYTES = 256L << 20;

    private static final long MAX_RATIO = 1_000;

    private Unpacked() {}

    /** The ending of a name that says how the file is compressed; empty text for none. */
    public static String ending(String name) {
        String lower = name.toLowerCase(Locale.ROOT);
        return ENDINGS.stream().filter(lower::endsWith).findFirst().orElse("");
    }

    /**
     * @throws sharptally.core.fault.ToolException when the file is not what its name says; also later on, while it is read
     */
    public static InputStream open(Path file) throws IOException {
        InputStream raw = new BufferedInputStream(Files.newInputStream(file), BUFFER_BYTES);
        try {
            String ending = ending(file.getFileName().toString());
            return ending.isEmpty() ? raw : new Bounded(unpacked(ending, raw, file), file, Files.size(file));
        } catch (IOException e) {
            raw.close();
            throw damaged(file, e);
        }
    }

    private static InputStream unpacked(String ending, InputStream raw, Path file) throws IOException {
        return switch (ending) {
            case ".gz" -> new GZIPInputStream(raw, BUFFER_BYTES);
            case ".zst" -> new ZstdInputStream(raw);
            case ".bz2" -> new BZip2CompressorInputStream(raw, true);
            default -> onlyEntry(new ZipInputStream(raw), file);
        };
    }

    private static InputStream onlyEntry(ZipInputStream zip, Path file) throws IOException {
        ZipEntry entry = zip.getNextEntry();
        if (entry == null || entry.isDirectory()) {
            throw FileProblem.of(file, "no file is in this archive", "check the file");
        }
        return new FilterInputStream(zip) {
            @Override
            public int read(byte[] into, int from, int length) throws IOException {
                int read = super.read(into, from, length);
                if (read < 0 && zip.getNextEntry() != null) {
                    throw FileProblem.of(
                            file, "more than one file is in this archive", "unpack it, and name the files");
                }
                return read;
            }
        };
    }

    static sharptally.core.fault.ToolException damaged(Path file, IOException e) {
        return e instanceof EOFException
                ? FileProblem.of(file, "the compressed file ends too early", "it was cut off: get it again")
                : FileProblem.of(
                        file, "the compressed file can't be unpacked (" + e.getMessage() + ")", "get it again");
    }

    /** Stops where a small file unpacks to one without end. */
    private static final class Bounded extends FilterInputStream {
        private final Path file;
        private final long most;
        private long passed;

        Bounded(InputStream unpacked, Path file, long packedBytes) {
            super(unpacked);
            this.file = file;
            this.most = Math.max(HARMLESS_BYTES, packedBytes * MAX_RATIO);
        }

        @Override
        public int read() throws IOException {
            byte[] one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xFF;
        }

        @Override
        public int read(byte[] into, int from, int length) throws IOException {
            int read;
            try {
                read = super.read(into, from, length);
            } catch (IOException e) {
                throw damaged(file, e);
            }
            passed += Math.max(0, read);
            if (passed > most) {
                throw FileProblem.of(
                        file,
                        "the compressed file unpacks to more than " + MAX_RATIO + " times its size",
                        "if it is what you expect, unpack it yourself");
            }
            return read;
        }
    }
}
