package sharptally.engines.jdbc.catalogue;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.Partitioning;

/**
 * Reads the values that stand in bounds of partitions.
 *
 * @param value finds one: in quotes, its letters as the first group, or without, as the second
 * @param escapes whether a backslash stands before letters that mean themselves
 */
public record PartitionBounds(Pattern value, boolean escapes) {
    /** All values; NULL is empty. */
    public List<Optional<String>> values(String bound) {
        List<Optional<String>> values = new ArrayList<>();
        Matcher each = value.matcher(bound);
        while (each.find()) {
            if (each.group(1) == null) {
                values.add(Optional.of(each.group(2)).filter(word -> !word.equalsIgnoreCase("NULL")));
            } else {
                String text = each.group(1).replace("''", "'");
                values.add(Optional.of(escapes ? text.replaceAll("\\\\(.)", "$1") : text));
            }
        }
        return values;
    }

    /** A partition of the values that are listed. */
    public Partitioning.Part listed(String name, String bound) {
        List<Optional<String>> values = values(bound);
        return new Partitioning.Part(
                name,
                values.stream()
                        .flatMap(Optional::stream)
                        .map(Partitioning.Values::of)
                        .toList(),
                values.contains(Optional.<String>empty()));
    }
}
