package sharptally.core.script.fit;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Finds rows, among those to be inserted into a table, of which a unique key is another's by the collation of its columns:
 * the database takes but one of them. What collations hold equal is guessed by their names: letter case, marks on letters,
 * blanks at the end. Memory: the keys of up to a number of rows; further ones are not looked at.
 */
public final class EqualKeys {
    private static final int MAX_ROWS = 200_000;
    private static final Pattern MARKS = Pattern.compile("\\p{M}+");
    private static final Pattern BLANKS = Pattern.compile(" +$");

    private final List<KeyShape> keys;
    private final Set<List<Object>> seen = new HashSet<>();

    public EqualKeys(TableShape table) {
        keys = table.keys().stream()
                .filter(key -> key.columns().stream()
                        .anyMatch(name -> table.column(name)
                                .flatMap(c -> c.collation())
                                .filter(EqualKeys::isLoose)
                                .isPresent()))
                .toList();
    }

    private static boolean isLoose(String collation) {
        String name = collation.toLowerCase(Locale.ROOT);
        return !name.endsWith("_bin")
                && !name.equals("binary")
                && !name.equals(ColumnShape.BY_BYTES.toLowerCase(Locale.ROOT))
                && !name.endsWith("_cs");
    }

    /** Whether the row has a key that one before it had, in other letters. */
    public boolean isAnother(List<Field> row) {
        if (keys.isEmpty() || seen.size() > MAX_ROWS) {
            return false;
        }
        boolean another = false;
        for (KeyShape key : keys) {
            Optional<List<Object>> folded = folded(key, row);
            another |= folded.isPresent() && !seen.add(folded.get());
        }
        return another;
    }

    private static Optional<List<Object>> folded(KeyShape key, List<Field> row) {
        List<Object> values = new ArrayList<>(List.of(key.columns()));
        for (String name : key.columns()) {
            Optional<Field> field =
                    row.stream().filter(f -> f.column().name().equals(name)).findFirst();
            if (field.isEmpty() || field.get().value() instanceof Value.Null) {
                return Optional.empty();
            }
            String text = field.get().value().toString();
            values.add(field.get()
                    .column()
                    .collation()
                    .filter(EqualKeys::isLoose)
                    .map(collation -> folded(collation.toLowerCase(Locale.ROOT), text))
                    .orElse(text));
        }
        return Optional.of(values);
    }

    private static String folded(String collation, String text) {
        if (collation.equals("declared")) {
            // SQLite does not tell which; NOCASE is the usual one.
            return asciiLower(text);
        }
        boolean server = collation.contains("_");
        String blanks = server && !collation.contains("nopad") && !collation.contains("0900")
                ? BLANKS.matcher(text).replaceAll("")
                : text;
        String bare = server && !collation.contains("_as_")
                ? MARKS.matcher(Normalizer.normalize(blanks, Normalizer.Form.NFD))
                        .replaceAll("")
                : blanks;
        return bare.toUpperCase(Locale.ROOT).toLowerCase(Locale.ROOT);
    }

    private static String asciiLower(String text) {
        return text.chars()
                .map(c -> c >= 'A' && c <= 'Z' ? c + ('a' - 'A') : c)
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString();
    }
}
