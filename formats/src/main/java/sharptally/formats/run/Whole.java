package sharptally.formats.run;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonMappingException;
import java.io.IOException;
import java.io.InputStream;
import java.lang.reflect.RecordComponent;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Collection;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import sharptally.formats.InputFile;

/** Reads records from JSON that must have all of their parts: a file that lacks one is damaged, or not of this program. */
final class Whole {
    private static final String START = "{\"sha256\" : \"";
    private static final String MIDDLE = "\", \"matches\" :\n";

    private Whole() {}

    /**
     * @throws IOException when it is no file, no such JSON, or something in it is missing
     */
    static <T> T read(Path file, TypeReference<T> type) throws IOException {
        InputFile.check(file);
        return read(file, () -> {
            try (InputStream in = Files.newInputStream(file)) {
                return Json.MAPPER.readValue(in, type);
            }
        });
    }

    /** JSON in an object that also holds its SHA-256, so that it is seen when something of it is changed. */
    static byte[] sealed(String json) {
        return (START + AuditLog.sha256Of(json) + MIDDLE + json + "}\n").getBytes(StandardCharsets.UTF_8);
    }

    /**
     * Reads what was {@link #sealed}.
     *
     * @throws IOException as {@link #read}, and when it is not as it was written
     */
    static <T> T readSealed(Path file, TypeReference<T> type) throws IOException {
        InputFile.check(file);
        return read(file, () -> {
            String text = Files.readString(file);
            int middle = text.indexOf(MIDDLE);
            int end = text.length() - "}\n".length();
            String json =
                    middle < 0 || end < middle + MIDDLE.length() ? "" : text.substring(middle + MIDDLE.length(), end);
            if (json.isEmpty() || !text.substring(0, middle).equals(START + AuditLog.sha256Of(json))) {
                throw new IOException(file.getFileName() + " is not as it was written");
            }
            return Json.MAPPER.readValue(json, type);
        });
    }

    private interface Reading<T> {
        T read() throws IOException;
    }

    private static <T> T read(Path file, Reading<T> reading) throws IOException {
        T read;
        try {
            read = reading.read();
        } catch (NoSuchFileException e) {
            throw new IOException(file + " is not there", e);
        } catch (RuntimeException e) {
            throw new IOException("it is damaged: " + e.getMessage(), e);
        } catch (JsonMappingException e) {
            // Records that check their parts say what is wrong with them.
            throw e.getCause() instanceof NullPointerException
                    ? new IOException("it is damaged: something is missing in " + file.getFileName(), e)
                    : e;
        }
        check(read, file.getFileName().toString());
        return read;
    }

    /**
     * @throws IOException when a part of a record is missing, at any depth
     */
    static void check(@Nullable Object part, String name) throws IOException {
        if (part == null) {
            throw new IOException("it is damaged: " + name + " is missing");
        } else if (part instanceof Optional<?> optional) {
            if (optional.isPresent()) {
                check(optional.get(), name);
            }
        } else if (part instanceof Collection<?> all) {
            for (Object one : all) {
                check(one, "an entry of " + name);
            }
        } else if (part instanceof Map<?, ?> map) {
            for (Object one : map.values()) {
                check(one, "an entry of " + name);
            }
        } else if (part instanceof Record whole) {
            for (RecordComponent component : whole.getClass().getRecordComponents()) {
                if (!component.getType().isPrimitive() && component.getAnnotation(Nullable.class) == null) {
                    check(value(whole, component), component.getName());
                }
            }
        }
    }

    private static @Nullable Object value(Record of, RecordComponent component) {
        try {
            component.getAccessor().setAccessible(true);
            return component.getAccessor().invoke(of);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException("a record's parts can be read", e);
        }
    }
}
