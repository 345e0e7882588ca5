package sharptally.engines.files.text;

import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * The names of columns, and whether the first record tells them.
 */
record Header(List<String> names, boolean isRecord) {
    /** What is a value rather than a name. */
    private static final Pattern VALUE = Pattern.compile("[-+]?[\\d.,:/ TZ+-]*\\d[\\d.,:/ TZeE+-]*");

    private static final int MAX_COLUMNS = 100_000;

    /**
     * @param first the fields of the first record; empty for a file without any
     */
    static Header of(Path file, FileForm form, List<String> first) {
        if (first.isEmpty() && form.names().isEmpty()) {
            throw FileProblem.of(file, "the file is empty, without even names of columns", "name them: ?names=a,b,c");
        }
        boolean isRecord = form.header().orElseGet(() -> form.names().isEmpty());
        if (isRecord
                && form.header().isEmpty()
                && first.stream().anyMatch(f -> VALUE.matcher(f).matches())) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "the first record does not look like names of columns",
                    file + ":1: " + String.join(", ", first.subList(0, Math.min(4, first.size()))),
                    "say ?header=yes if it is that, ?header=no or ?names=a,b,c if it is not");
        }
        List<String> names = !form.names().isEmpty()
                ? form.names()
                : isRecord
                        ? first.stream().map(String::strip).toList()
                        : IntStream.rangeClosed(1, first.size())
                                .mapToObj(i -> "c" + i)
                                .toList();
        if (!first.isEmpty() && names.size() != first.size()) {
            throw FileProblem.at(
                    file,
                    1,
                    "this record has " + first.size() + " fields, and there are " + names.size() + " names",
                    "name each of them, in order");
        }
        check(file, names);
        return new Header(names, isRecord && !first.isEmpty());
    }

    private static void check(Path file, List<String> names) {
        if (names.size() > MAX_COLUMNS) {
            throw FileProblem.of(file, "more than " + MAX_COLUMNS + " columns", "another delimiter may be meant");
        }
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < names.size(); i++) {
            if (names.get(i).isEmpty()) {
                throw FileProblem.at(
                        file, 1, "column " + (i + 1) + " has no name", "name all: ?names=a,b,c&header=yes");
            }
            if (!seen.add(names.get(i).toLowerCase(Locale.ROOT))) {
                throw FileProblem.at(
                        file, 1, "two columns are called " + names.get(i), "name all: ?names=a,b,c&header=yes");
            }
        }
    }

    /** A delimiter as it is said in an address. */
    static String word(char delimiter) {
        return switch (delimiter) {
            case '\t' -> "tab";
            case ',' -> "comma";
            case ';' -> "semicolon";
            case '|' -> "pipe";
            default -> String.valueOf(delimiter);
        };
    }
}
