package sharptally.formats.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * The journal of a run, {@code journal.jsonl}: first what was asked for, then a line for all that is finished. A line
 * that was cut short by a crash is the last one, and is dropped. Safe for use by several threads.
 */
public final class Journal implements AutoCloseable {
    static final int FORMAT = 1;
    private static final String NAME = "journal.jsonl";
    private static final Duration FORCED_EVERY = Duration.ofSeconds(1);

    private final Path file;
    private final FileChannel channel;
    private final List<JsonNode> earlier;
    private long forced = System.nanoTime();

    private Journal(Path file, FileChannel channel, List<JsonNode> earlier) {
        this.file = file;
        this.channel = channel;
        this.earlier = earlier;
    }

    /**
     * A new journal.
     *
     * @param wish what the user asked for, as {@link #wish} will give it back
     */
    public static Journal begin(Path folder, Object wish) {
        Path file = folder.resolve(NAME);
        Journal journal = new Journal(file, open(file), List.of());
        ObjectNode head = Json.MAPPER.createObjectNode();
        head.put("journal", FORMAT);
        head.set("wish", Json.MAPPER.valueToTree(wish));
        journal.append(head);
        return journal;
    }

    /**
     * The journal of an interrupted run.
     *
     * @throws ToolException when there is none that can be read
     */
    public static Journal goOn(Path folder) {
        Path file = folder.resolve(NAME);
        List<byte[]> lines = linesOf(file);
        List<JsonNode> earlier = parsed(file, lines);
        // A crash may have left half a line at the end.
        long length = lines.stream().mapToLong(line -> line.length + 1L).sum();
        FileChannel channel = open(file);
        try {
            return new Journal(file, channel.truncate(length).position(length), earlier);
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    private static List<JsonNode> parsed(Path file, List<byte[]> lines) {
        List<JsonNode> out = new ArrayList<>();
        try {
            for (byte[] line : lines) {
                out.add(Json.MAPPER.readTree(line));
            }
        } catch (IOException e) {
            throw cantResume(file, "line " + (out.size() + 1) + " is damaged");
        }
        if (out.isEmpty() || out.get(0).path("journal").asInt() != FORMAT) {
            throw cantResume(file, "it has no head of format " + FORMAT);
        }
        return out;
    }

    private static List<byte[]> linesOf(Path file) {
        try {
            return lines(Files.readAllBytes(file));
        } catch (IOException e) {
            throw cantResume(file, "it can't be read");
        }
    }

    /** The lines that were written to their end. */
    private static List<byte[]> lines(byte[] bytes) {
        List<byte[]> out = new ArrayList<>();
        int start = 0;
        for (int i = 0; i < bytes.length; i++) {
            if (bytes[i] == '\n') {
                out.add(java.util.Arrays.copyOfRange(bytes, start, i));
                start = i + 1;
            }
        }
        return out;
    }

    private static ToolException cantResume(Path file, String why) {
        return new ToolException(
                ErrorKind.JOB_FILE, "this run can't be resumed", file + " (" + why + ")", "compare anew");
    }

    /** That what it says of a match can't be understood. */
    ToolException damaged(String match) {
        return cantResume(file, "what it says of " + match + " is damaged");
    }

    private static FileChannel open(Path file) {
        try {
            return FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    /**
     * What the user had asked of a run, whoever may be writing into its journal.
     *
     * @throws ToolException when there is no journal that can be read
     */
    public static <T> T wishOf(Path folder, Class<T> type) {
        Path file = folder.resolve(NAME);
        List<byte[]> lines = linesOf(file);
        return wish(file, parsed(file, lines.subList(0, Math.min(1, lines.size()))), type);
    }

    /** What the user had asked for. */
    public <T> T wish(Class<T> type) {
        return wish(file, earlier, type);
    }

    private static <T> T wish(Path file, List<JsonNode> lines, Class<T> type) {
        try {
            T wish = Json.MAPPER.treeToValue(lines.get(0).get("wish"), type);
            Whole.check(wish, "wish");
            return wish;
        } catch (IOException | RuntimeException e) {
            throw cantResume(file, "its head is damaged");
        }
    }

    /** What an earlier attempt wrote of a match, in order. */
    List<JsonNode> of(String match) {
        return earlier.stream()
                .filter(l -> l.path("match").asText().equals(match))
                .toList();
    }

    /** Adds a line; it outlives a loss of power from then on, with all before it. */
    synchronized void append(ObjectNode line) {
        note(line);
        try {
            channel.force(false);
            forced = System.nanoTime();
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    /** Adds a line that outlives a loss of power within about a second, and whose loss would cost no more than is done in that. */
    synchronized void appendSoon(ObjectNode line) {
        if (System.nanoTime() - forced > FORCED_EVERY.toNanos()) {
            append(line);
        } else {
            note(line);
        }
    }

    /** Adds a line whose loss would cost nothing. */
    synchronized void note(ObjectNode line) {
        try {
            byte[] bytes = (Json.line(line) + "\n").getBytes(StandardCharsets.UTF_8);
            ByteBuffer buffer = ByteBuffer.wrap(bytes);
            while (buffer.hasRemaining()) {
                channel.write(buffer);
            }
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    @Override
    public void close() {
        try {
            channel.close();
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }
}
