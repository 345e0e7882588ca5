package sharptally.engines.files.write;

import java.util.HexFormat;
import java.util.Locale;
import java.util.Optional;
import sharptally.core.types.Value;

/** Values written as others of their column are: one file does not hold {@code t} and {@code true}. */
public final class WrittenLike {
    private WrittenLike() {}

    /**
     * @param other a value of the same column as it is written; empty text where there is none
     * @return empty for NULL
     */
    public static Optional<String> text(Value value, String other) {
        if (value instanceof Value.Null) {
            return Optional.empty();
        } else if (value instanceof Value.Bool bool) {
            return Optional.of(truth(bool.value(), other));
        } else if (value instanceof Value.Bytes bytes) {
            HexFormat hex = other.matches(".*[A-F].*") ? HexFormat.of().withUpperCase() : HexFormat.of();
            String prefix = other.startsWith("0x") ? "0x" : other.startsWith("\\x") ? "\\x" : "";
            return Optional.of(prefix + hex.formatHex(bytes.value()));
        } else if (value instanceof Value.Decimal decimal) {
            return Optional.of(decimal.value().toPlainString());
        } else if (value instanceof Value.Timestamp || value instanceof Value.Instant) {
            String text = value.toString();
            return Optional.of(other.matches("\\d{4,}-\\d\\d-\\d\\dT.*") ? text.replaceFirst(" ", "T") : text);
        } else if (value instanceof Value.Int whole
                && other.toLowerCase(Locale.ROOT).matches("t|f|true|false")) {
            // A boolean of this file, which the other side holds as a number.
            return Optional.of(
                    whole.value() == 0 || whole.value() == 1 ? truth(whole.value() == 1, other) : whole.toString());
        }
        return Optional.of(value.toString());
    }

    private static String truth(boolean value, String other) {
        String word = switch (other.toLowerCase(Locale.ROOT)) {
            case "t", "f" -> value ? "t" : "f";
            case "1", "0" -> value ? "1" : "0";
            default -> String.valueOf(value);
        };
        return !other.isEmpty() && other.equals(other.toUpperCase(Locale.ROOT)) ? word.toUpperCase(Locale.ROOT) : word;
    }
}
