package sharptally.spark.send;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import java.io.IOException;
import java.util.List;
import sharptally.core.compare.RangeResult;
import sharptally.core.match.TableMatch;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.formats.run.Json;

/** What is sent, in the form of run folders. */
public final class Sent {
    private Sent() {}

    public static String text(Object object) {
        try {
            return Json.line(object);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static <T> T read(String text, TypeReference<T> type) {
        try {
            return Json.MAPPER.readValue(text, type);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException(e);
        }
    }

    public static TableMatch match(String text) {
        return read(text, new TypeReference<>() {});
    }

    public static List<ColumnShape> columns(String text) {
        return read(text, new TypeReference<>() {});
    }

    public static List<KeyRange> ranges(String text) {
        return read(text, new TypeReference<>() {});
    }

    public static SentRange range(String text) {
        return read(text, new TypeReference<>() {});
    }

    public static SentSlices slices(String text) {
        return read(text, new TypeReference<>() {});
    }

    public static RangeResult result(String text) {
        return read(text, new TypeReference<>() {});
    }
}
