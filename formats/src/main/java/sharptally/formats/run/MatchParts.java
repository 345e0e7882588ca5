package sharptally.formats.run;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.match.TableMatch;
import sharptally.core.range.KeyRange;
import sharptally.formats.value.FindingJson;

/**
 * What is kept of one match while it is compared: a file of findings per range, and in the journal the ranges and what
 * was found in each. {@link #join} makes one file of findings of them.
 */
public final class MatchParts implements PartKeeper {
    private final TableMatch match;
    private final Path findings;
    private final Path folder;
    private final Path rangesFile;
    private final Path sumsFile;
    private final Journal journal;
    private final Map<Integer, RangeResult> finished = new TreeMap<>();
    private Optional<List<KeyRange>> ranges = Optional.empty();
    private boolean joined;

    MatchParts(TableMatch match, Path run, String findingsFile, Journal journal) {
        this.match = match;
        this.findings = run.resolve(findingsFile);
        this.folder = run.resolve(findingsFile.replaceAll("\\.jsonl$", ".parts"));
        this.rangesFile = run.resolve(findingsFile.replaceFirst("^findings/", "ranges/"));
        this.sumsFile = run.resolve(sumsFile(findingsFile));
        this.journal = journal;
        journal.of(match.name()).forEach(this::recall);
    }

    /** The file of checksums that belongs to a file of findings. */
    static String sumsFile(String findings) {
        return findings.replaceFirst("^findings/", "sums/").replaceAll("\\.jsonl$", ".json");
    }

    private void recall(JsonNode line) {
        try {
            if (line.has("restart")) {
                forget();
            } else if (line.has("ranges")) {
                ranges = Optional.of(
                        Json.MAPPER.treeToValue(line.get("ranges"), new TypeReference<List<KeyRange>>() {}));
            } else if (line.has("joined")) {
                joined = true;
            } else if (line.has("part")) {
                finished.put(line.get("range").asInt(), Json.MAPPER.treeToValue(line.get("part"), RangeResult.class));
            }
        } catch (JacksonException e) {
            throw journal.damaged(match.name());
        }
    }

    private void forget() {
        ranges = Optional.empty();
        finished.clear();
        joined = false;
    }

    private ObjectNode line() {
        return Json.MAPPER.createObjectNode().put("match", match.name());
    }

    @Override
    public synchronized Optional<List<KeyRange>> ranges() {
        return ranges;
    }

    @Override
    public synchronized void cut(List<KeyRange> into) {
        ranges = Optional.of(List.copyOf(into));
        journal.note(line().set("ranges", Json.MAPPER.valueToTree(into)));
    }

    @Override
    public synchronized Optional<RangeResult> finished(int range) {
        return Optional.ofNullable(finished.get(range));
    }

    @Override
    public Sink open(int range) {
        try {
            Files.createDirectories(folder);
        } catch (IOException e) {
            throw RunWriter.cantWrite(folder, e);
        }
        return new FindingsOut(file(range), new FindingJson(match));
    }

    private Path file(int range) {
        String number = Integer.toString(range);
        return folder.resolve("0".repeat(Math.max(0, 6 - number.length())) + number + ".jsonl");
    }

    @Override
    public synchronized void finish(int range, RangeResult part) {
        finished.put(range, part);
        journal.appendSoon(line().put("range", range).set("part", Json.MAPPER.valueToTree(part)));
    }

    @Override
    public synchronized void restart() {
        forget();
        journal.append(line().put("restart", true));
        try {
            // What was found in ranges that are no more must not be put together with what is found now.
            for (Path part : parts()) {
                Files.deleteIfExists(part);
            }
        } catch (IOException e) {
            throw RunWriter.cantWrite(folder, e);
        }
    }

    /**
     * Puts the findings of all ranges into the match's file, in key order, and writes down what is known of each range. It
     * may be interrupted at any moment and done again: the files of the ranges go only when the journal says that the match's
     * own is whole, and from then on that one is left alone.
     *
     * @param complete whether all ranges are finished; if not, the parts are kept to go on from
     */
    public synchronized void join(boolean complete) {
        try {
            List<Path> all = parts();
            List<Path> parts = complete
                    ? finished.keySet().stream()
                            .map(this::file)
                            .filter(all::contains)
                            .toList()
                    : all;
            if (!joined || lostNothing()) {
                putTogether(parts, complete);
            }
            if (complete && !joined) {
                joined = true;
                ObjectNode line = line().put("joined", true);
                if (Files.size(findings) > 0) {
                    onDisk(findings);
                    journal.append(line);
                } else {
                    // Of nothing, nothing can be lost.
                    journal.appendSoon(line);
                }
            }
            writeRanges();
            if (complete) {
                writeSlices();
                for (Path part : all) {
                    Files.deleteIfExists(part);
                }
                Files.deleteIfExists(folder);
            }
        } catch (IOException e) {
            throw RunWriter.cantWrite(findings, e);
        }
    }

    /** Whether a file without findings is there no more, which was not forced to the disk. */
    private boolean lostNothing() {
        return Files.notExists(findings)
                && finished.values().stream().allMatch(p -> p.counts().nothingDiffers());
    }

    private List<Path> parts() throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return new ArrayList<>(files.sorted().toList());
        }
    }

    /**
     * @param last whether no part is written to any more
     */
    private void putTogether(List<Path> parts, boolean last) throws IOException {
        Path draft = findings.resolveSibling(findings.getFileName() + ".draft");
        Files.deleteIfExists(draft);
        if (last && parts.size() == 1) {
            link(parts.get(0), draft);
        } else {
            copy(parts, draft);
        }
        Files.move(draft, findings, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    private static void onDisk(Path file) throws IOException {
        try (FileChannel written = FileChannel.open(file, StandardOpenOption.WRITE)) {
            written.force(true);
        }
    }

    /** The same file by a second name, where the disk has such. */
    private static void link(Path part, Path draft) throws IOException {
        try {
            Files.createLink(draft, part);
        } catch (UnsupportedOperationException | FileSystemException e) {
            Files.copy(part, draft, StandardCopyOption.REPLACE_EXISTING);
        }
    }

    private static void copy(List<Path> parts, Path draft) throws IOException {
        try (FileChannel out = FileChannel.open(
                draft, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING)) {
            for (Path part : parts) {
                try (FileChannel in = FileChannel.open(part)) {
                    for (long at = 0; at < in.size(); ) {
                        at += in.transferTo(at, in.size() - at, out);
                    }
                }
            }
        }
    }

    /** With what checksums rows differ, for a later run that has the same ones. */
    private void writeSlices() throws IOException {
        List<Sliced> all = finished.values().stream()
                .flatMap(part -> part.sliced().stream())
                .toList();
        if (!all.isEmpty()) {
            Files.createDirectories(sumsFile.getParent());
            Files.write(sumsFile, Whole.sealed(Json.MAPPER.writeValueAsString(all)));
        }
    }

    private void writeRanges() throws IOException {
        if (ranges.isEmpty() || ranges.get().size() < 2) {
            return;
        }
        Files.createDirectories(rangesFile.getParent());
        try (BufferedWriter out = Files.newBufferedWriter(rangesFile)) {
            for (int i = 0; i < ranges.get().size(); i++) {
                Map<String, Object> line = new LinkedHashMap<>();
                line.put("from", ranges.get().get(i).from());
                line.put("to", ranges.get().get(i).to());
                Optional.ofNullable(finished.get(i)).ifPresent(part -> {
                    line.put("method", part.method());
                    line.put("source-rows", part.counts().sourceRows());
                    line.put("target-rows", part.counts().targetRows());
                    line.put("differing", part.counts().findings());
                });
                out.write(Json.line(line));
                out.newLine();
            }
        }
    }
}
