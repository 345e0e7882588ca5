package sharptally.formats.checksum;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.formats.InputFile;
import sharptally.formats.run.Json;

/**
 * Rows and checksums of one table's key ranges, as a file that can be carried to another place: one JSON object per line,
 * a head, the ranges in key order, an end. The form is described in {@code docs/checksums.md}.
 *
 * @param ranges in key order; with the {@code sums} in the same places
 */
public record ChecksumFile(Head head, List<KeyRange> ranges, List<RangeSum> sums) {
    public static final int FORMAT = 1;
    /** Version of the common form of values. */
    public static final int COMMON_FORM = 2;

    public static final String HASH = "md5, first 64 bits";

    public ChecksumFile {
        ranges = List.copyOf(ranges);
        sums = List.copyOf(sums);
    }

    /**
     * What the ranges are of.
     *
     * @param checksums version of the file's form
     * @param commonForm version of the form of values
     * @param place where the table is, without any password
     * @param made when, as an ISO instant
     * @param where the condition that the rows meet; empty where all rows count
     */
    public record Head(
            int checksums,
            int commonForm,
            String hash,
            String place,
            String product,
            String table,
            String made,
            List<String> key,
            List<HashedColumn> columns,
            Optional<String> where) {
        public Head {
            key = List.copyOf(key);
            columns = List.copyOf(columns);
        }
    }

    /**
     * @param digits of a second
     */
    public record HashedColumn(String name, Kind kind, boolean padded, int digits) {}

    /** One line of a range. */
    private record Line(List<Value> from, List<Value> to, long rows, String checksum) {}

    /** All rows. */
    public RangeSum total() {
        return sums.stream().reduce(RangeSum.NOTHING, RangeSum::plus);
    }

    /** Writes the file in one step. */
    public void write(Path file) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            try (BufferedWriter out = Files.newBufferedWriter(draft)) {
                out.write(Json.line(head));
                out.newLine();
                for (int i = 0; i < ranges.size(); i++) {
                    KeyRange range = ranges.get(i);
                    RangeSum sum = sums.get(i);
                    out.write(Json.line(new Line(range.from(), range.to(), sum.rows(), sum.hex())));
                    out.newLine();
                }
                ObjectNode end = Json.MAPPER.createObjectNode();
                end.put("ranges", ranges.size()).put("rows", total().rows()).put("checksum", total().hex());
                out.write(Json.line(end));
                out.newLine();
            }
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the checksum file",
                    file + " (" + e.getMessage() + ")",
                    Hint.OTHER_OUTPUT,
                    e);
        }
    }

    /**
     * @throws ToolException when it is not there, is no such file, or was cut short
     */
    public static ChecksumFile read(Path file) {
        List<KeyRange> ranges = new ArrayList<>();
        List<RangeSum> sums = new ArrayList<>();
        int number = 1;
        try (BufferedReader in = InputFile.reader(file)) {
            String first = in.readLine();
            JsonNode top = Json.MAPPER.readTree(first == null ? "" : first);
            if (!top.isObject() || !top.has("checksums")) {
                throw unreadable(file, "it has no head");
            }
            if (top.path("checksums").asInt() != FORMAT) {
                throw unreadable(file, "it is of another version");
            }
            if (top.path("common-form").asInt() != COMMON_FORM) {
                throw unreadable(
                        file,
                        "its values are in form " + top.path("common-form").asInt() + ", this program's are in form "
                                + COMMON_FORM + "; checksums of two forms can't be compared with each other");
            }
            Head head = Json.MAPPER.treeToValue(top, Head.class);
            for (String text = in.readLine(); text != null; text = in.readLine()) {
                number++;
                JsonNode node = Json.MAPPER.readTree(text);
                if (node.has("ranges")) {
                    ChecksumFile read = new ChecksumFile(head, ranges, sums);
                    if (node.get("ranges").asInt() != ranges.size()
                            || !node.path("checksum")
                                    .asText()
                                    .equals(read.total().hex())) {
                        throw unreadable(file, "its lines do not add up to what its end says");
                    }
                    return read;
                }
                Line line = Json.MAPPER.treeToValue(node, Line.class);
                ranges.add(new KeyRange(line.from(), line.to()));
                sums.add(new RangeSum(line.rows(), Long.parseUnsignedLong(line.checksum(), 16)));
            }
            throw unreadable(file, "it was cut short: it has no end");
        } catch (NoSuchFileException e) {
            throw new ToolException(ErrorKind.USAGE, "no such file", file.toString(), "check the path", e);
        } catch (JacksonException | CharacterCodingException | NumberFormatException e) {
            throw unreadable(file, "line " + number + " is damaged");
        } catch (IOException e) {
            throw unreadable(file, String.valueOf(e.getMessage()));
        }
    }

    private static ToolException unreadable(Path file, String why) {
        return new ToolException(
                ErrorKind.JOB_FILE, "not a checksum file that can be used", file + " (" + why + ")", "make it anew");
    }
}
