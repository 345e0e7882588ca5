package sharptally.engines.files.write;

import java.nio.charset.Charset;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import sharptally.engines.files.text.FileProblem;

/**
 * Fields between delimiters.
 *
 * @param quote 0 where nothing is quoted
 * @param escaped whether what can't stand in a field is written behind a backslash
 * @param nothing what stands for NULL
 */
public record RecordWriting(Path file, Charset charset, char delimiter, char quote, boolean escaped, String nothing)
        implements Writing {
    @Override
    public String record(List<Optional<String>> fields) {
        return fields.stream().map(this::field).collect(Collectors.joining(String.valueOf(delimiter)));
    }

    /** What does not change keeps its quotes, or has none as before. */
    @Override
    public String changed(String raw, List<Optional<String>> fields, Set<Integer> changed) {
        List<String> parts = parts(raw);
        if (parts.size() != fields.size()) {
            return record(fields);
        }
        changed.forEach(i -> parts.set(i, field(fields.get(i))));
        return String.join(String.valueOf(delimiter), parts);
    }

    /** The fields of a record as they stand in the file. */
    private List<String> parts(String raw) {
        List<String> parts = new ArrayList<>();
        StringBuilder part = new StringBuilder();
        boolean quoted = false;
        for (int i = 0; i < raw.length(); i++) {
            char c = raw.charAt(i);
            if (escaped && c == '\\' && i + 1 < raw.length()) {
                part.append(c).append(raw.charAt(++i));
            } else if (c == delimiter && !quoted) {
                parts.add(part.toString());
                part.setLength(0);
            } else {
                quoted ^= quote != 0 && c == quote;
                part.append(c);
            }
        }
        parts.add(part.toString());
        return parts;
    }

    private String field(Optional<String> field) {
        if (field.isEmpty()) {
            return nothing;
        }
        String text = field.get();
        if (escaped) {
            return escaped(text);
        }
        boolean special = text.isEmpty()
                || text.equals(nothing)
                || text.indexOf(delimiter) >= 0
                || text.indexOf('\n') >= 0
                || text.indexOf('\r') >= 0
                || quote != 0 && text.indexOf(quote) >= 0;
        if (!special) {
            return text;
        }
        if (quote == 0) {
            if (text.isEmpty() && !nothing.isEmpty()) {
                return text;
            }
            throw FileProblem.of(
                    file,
                    "a value can't be written where nothing is quoted: "
                            + text.lines().findFirst().orElse("''"),
                    "leave the row out, or write the file anew with quotes");
        }
        String twice = String.valueOf(quote) + quote;
        return quote + text.replace(String.valueOf(quote), twice) + quote;
    }

    private String escaped(String text) {
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default -> {
                    if (c == delimiter) {
                        out.append('\\');
                    }
                    out.append(c);
                }
            }
        }
        return out.toString();
    }
}
