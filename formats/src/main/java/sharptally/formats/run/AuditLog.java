package sharptally.formats.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.MappingIterator;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * Who did what with a run: one line for each script that was written and each change of a target, never changed. Each line
 * holds the SHA-256 of the one before it, so that none can be changed or taken away without all that follow.
 */
public final class AuditLog {
    private static final int BUFFER = 1 << 16;
    private static final Set<String> HEAD = Set.of("at", "user", "host", "did", "before");

    private final Path file;
    private final Clock clock;

    public AuditLog(RunFolder run, Clock clock) {
        this.clock = clock;
        file = run.folder().resolve("audit.jsonl");
    }

    /**
     * Adds a line.
     *
     * @param what the command
     * @param details further fields, in order
     */
    @SuppressWarnings("try")
    public void add(String what, Map<String, Object> details) {
        Map<String, Object> entry = new LinkedHashMap<>();
        entry.put("at", clock.instant().truncatedTo(ChronoUnit.SECONDS).toString());
        entry.put("user", System.getProperty("user.name"));
        entry.put("host", host());
        entry.put("did", what);
        entry.putAll(details);
        try (FileChannel channel = FileChannel.open(
                        file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE);
                FileLock alone = channel.lock()) {
            List<String> lines = Files.readAllLines(file);
            entry.put("before", lines.isEmpty() ? "" : sha256Of(lines.get(lines.size() - 1)));
            append(channel, (Json.line(entry) + "\n").getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }

    /** All of a line or nothing: half of one, as on a full disk, would break the chain. */
    private static void append(FileChannel channel, byte[] line) throws IOException {
        long end = channel.size();
        try {
            channel.position(end);
            ByteBuffer left = ByteBuffer.wrap(line);
            while (left.hasRemaining()) {
                channel.write(left);
            }
            channel.force(true);
        } catch (IOException e) {
            channel.truncate(end);
            throw e;
        }
    }

    /**
     * One line.
     *
     * @param by the user and the machine
     * @param did the command
     * @param details what else stands there, as text, in order
     */
    public record Entry(String at, String by, String did, Map<String, String> details) {}

    /** The user and the machine. */
    public static String who() {
        return System.getProperty("user.name") + "@" + host();
    }

    /**
     * All lines, the first one first; none where nothing was done with the run.
     *
     * @throws ToolException when they are not those that were written
     */
    public List<Entry> entries() {
        if (!Files.exists(file)) {
            return List.of();
        }
        checkChain();
        try {
            List<Entry> entries = new ArrayList<>();
            for (String line : Files.readAllLines(file)) {
                JsonNode entry = Json.MAPPER.readTree(line);
                Map<String, String> details = new LinkedHashMap<>();
                entry.properties().forEach(field -> {
                    if (!HEAD.contains(field.getKey())) {
                        details.put(
                                field.getKey(),
                                field.getValue().isValueNode()
                                        ? field.getValue().asText()
                                        : field.getValue().toString());
                    }
                });
                entries.add(new Entry(
                        entry.path("at").asText(),
                        entry.path("user").asText() + "@" + entry.path("host").asText(),
                        entry.path("did").asText(),
                        details));
            }
            return entries;
        } catch (IOException e) {
            throw RunFolder.unreadable(file, String.valueOf(e.getMessage()), e);
        }
    }

    /** Who wrote a script of this hash for this run, and when; empty where nobody did. */
    public Optional<String> writer(String sha256) {
        if (!Files.exists(file)) {
            return Optional.empty();
        }
        checkChain();
        try (InputStream in = Files.newInputStream(file);
                MappingIterator<JsonNode> entries =
                        Json.MAPPER.readerFor(JsonNode.class).readValues(in)) {
            while (entries.hasNextValue()) {
                JsonNode entry = entries.nextValue();
                if (sha256.equals(entry.path("sha256").asText())
                        || sha256.equals(entry.path("undo-sha256").asText())) {
                    return Optional.of("by " + entry.path("user").asText() + " at "
                            + entry.path("at").asText());
                }
            }
            return Optional.empty();
        } catch (IOException e) {
            throw RunFolder.unreadable(file, String.valueOf(e.getMessage()), e);
        }
    }

    /**
     * @throws ToolException when a line is not the one that was written, or one is missing before another
     */
    private void checkChain() {
        try {
            List<String> lines = Files.readAllLines(file);
            for (int i = 0; i < lines.size(); i++) {
                String before =
                        Json.MAPPER.readTree(lines.get(i)).path("before").asText();
                if (!before.equals(i == 0 ? "" : sha256Of(lines.get(i - 1)))) {
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            "the audit was changed: line " + (i + 1) + " does not follow from the one before",
                            file.toString(),
                            "don't trust it");
                }
            }
        } catch (IOException e) {
            throw RunFolder.unreadable(file, String.valueOf(e.getMessage()), e);
        }
    }

    static String sha256Of(String line) {
        return HexFormat.of().formatHex(digest().digest(line.getBytes(StandardCharsets.UTF_8)));
    }

    private static MessageDigest digest() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    private static String host() {
        try {
            return InetAddress.getLocalHost().getHostName();
        } catch (UnknownHostException e) {
            return "unknown";
        }
    }

    /** The SHA-256 of a file, in hexadecimal digits. */
    public static String sha256(Path file) {
        try (InputStream in = Files.newInputStream(file)) {
            MessageDigest digest = digest();
            byte[] buffer = new byte[BUFFER];
            for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                digest.update(buffer, 0, read);
            }
            return HexFormat.of().formatHex(digest.digest());
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
    }
}
