package sharptally.formats.run;

import com.fasterxml.jackson.core.JsonParser;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;
import java.util.Set;
import java.util.stream.IntStream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.formats.value.FindingJson;

/**
 * Where each finding of one match stands in its file, so that any can be read by itself. Memory: eight bytes for each
 * finding, and four for each that passes the present filter. Used by one thread.
 */
public final class FindingIndex implements AutoCloseable {
    private static final int BUFFER = 1 << 16;
    private static final int LONGEST_KIND = 32;

    private final Path path;
    private final RandomAccessFile file;
    private final FindingJson form;
    private long[] starts = new long[1024];
    private int count;

    private FindingIndex(Path path, TableMatch match) throws IOException {
        this.path = path;
        this.file = new RandomAccessFile(path.toAbsolutePath().toFile(), "r");
        this.form = new FindingJson(match);
    }

    /**
     * Reads the file through once, without parsing it.
     *
     * @throws sharptally.core.fault.ToolException when it can't be read
     */
    public static FindingIndex of(RunFolder run, TableMatch match) {
        Path path = run.checked(run.summaryOf(match).orElseThrow());
        try {
            FindingIndex index = new FindingIndex(path, match);
            index.scan();
            return index;
        } catch (IOException e) {
            throw RunFolder.unreadable(path, String.valueOf(e.getMessage()), e);
        }
    }

    private void scan() throws IOException {
        try (InputStream in = Files.newInputStream(path)) {
            byte[] buffer = new byte[BUFFER];
            long at = 0;
            long start = 0;
            for (int read = in.read(buffer); read > 0; read = in.read(buffer)) {
                for (int i = 0; i < read; i++) {
                    if (buffer[i] == '\n') {
                        add(start);
                        start = at + i + 1;
                    }
                }
                at += read;
            }
        }
    }

    private void add(long start) {
        if (count + 1 >= starts.length) {
            starts = Arrays.copyOf(starts, starts.length * 2);
        }
        starts[count++] = start;
    }

    /** How many findings there are. */
    public int size() {
        return count;
    }

    /**
     * The places of the findings that pass, in order.
     *
     * @param search text that must stand somewhere in the finding, in letters of any case; empty for all
     */
    public int[] places(Set<FindingKind> kinds, String search) {
        boolean everyKind = kinds.size() == FindingKind.values().length;
        if (everyKind && search.isEmpty()) {
            return IntStream.range(0, count).toArray();
        }
        int[] places = new int[count];
        int found = 0;
        String wanted = search.toLowerCase(Locale.ROOT);
        boolean ascii = wanted.chars().allMatch(c -> c < 128);
        byte[] bytes = wanted.getBytes(StandardCharsets.UTF_8);
        try (InputStream in = new BufferedInputStream(Files.newInputStream(path), BUFFER)) {
            for (int place = 0; place < count; place++) {
                boolean last = place + 1 == count;
                long length = (last ? Files.size(path) : starts[place + 1]) - starts[place];
                byte[] begin = in.readNBytes((int) (wanted.isEmpty() ? Math.min(length, LONGEST_KIND) : length));
                in.skipNBytes(length - begin.length);
                if ((everyKind || isOf(kinds, begin))
                        && (wanted.isEmpty() || (ascii ? holds(begin, bytes) : holds(begin, wanted)))) {
                    places[found++] = place;
                }
            }
        } catch (IOException e) {
            throw RunFolder.unreadable(path, String.valueOf(e.getMessage()), e);
        }
        return Arrays.copyOf(places, found);
    }

    private static boolean isOf(Set<FindingKind> kinds, byte[] begin) {
        String text = new String(begin, 0, Math.min(begin.length, LONGEST_KIND), StandardCharsets.UTF_8);
        return kinds.stream().anyMatch(k -> text.startsWith("{\"kind\":\"" + k.word() + '"'));
    }

    private static boolean holds(byte[] line, String wanted) {
        return new String(line, StandardCharsets.UTF_8).toLowerCase(Locale.ROOT).contains(wanted);
    }

    /** The same for ASCII, of which a byte is a letter wherever it stands in UTF-8; several times as fast. */
    private static boolean holds(byte[] line, byte[] wanted) {
        for (int from = 0; from <= line.length - wanted.length; from++) {
            int same = 0;
            while (same < wanted.length && lower(line[from + same]) == wanted[same]) {
                same++;
            }
            if (same == wanted.length) {
                return true;
            }
        }
        return false;
    }

    private static int lower(byte letter) {
        return letter >= 'A' && letter <= 'Z' ? letter + 32 : letter;
    }

    /** One finding. */
    public Finding get(int place) {
        try {
            file.seek(starts[place]);
            long end = place + 1 < count ? starts[place + 1] : file.length();
            byte[] line = new byte[Math.toIntExact(end - starts[place])];
            file.readFully(line);
            try (JsonParser in = Json.MAPPER.getFactory().createParser(line)) {
                in.nextToken();
                return form.read(in);
            }
        } catch (IOException e) {
            throw RunFolder.unreadable(path, String.valueOf(e.getMessage()), e);
        }
    }

    @Override
    public void close() {
        try {
            file.close();
        } catch (IOException e) {
            throw RunFolder.unreadable(path, String.valueOf(e.getMessage()), e);
        }
    }
}
