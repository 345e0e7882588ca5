package sharptally.core.common;

import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** What is looked at in the values of a column. */
final class Features {
    /** By what whole numbers are divided, to see what they leave. */
    static final int[] DIVISORS = {2, 3, 4, 5, 7, 8, 10, 12, 16, 32, 64, 100, 128, 256, 1_000, 1_024};

    private static final int MAX_PREFIX = 6;
    private static final int LATIN_1 = 0xff;

    /** So many letters of a text are told. */
    private static final int MAX_LETTERS = 40;

    /**
     * Something that has one value for each row.
     *
     * @param of what it is of a value; null where it is not known
     * @param equal how it is told that it is this
     * @param between how it is told that it is from one up to another; null of what has no order
     */
    record Feature(
            Function<Value, @Nullable Object> of,
            Function<Object, String> equal,
            @Nullable BiFunction<@Nullable Object, @Nullable Object, String> between,
            int rank) {}

    private Features() {}

    /** Those of a column, but for whether it is NULL. */
    static List<Feature> of(ColumnShape column) {
        String name = column.name();
        List<Feature> features = new ArrayList<>();
        switch (column.type().map(t -> t.kind()).orElse(Kind.OTHER)) {
            case BOOLEAN -> features.add(same(name));
            case INTEGER, DECIMAL, FLOAT, DOUBLE -> numbers(name, features);
            case DATE, TIMESTAMP, INSTANT -> times(name, features);
            case TIME ->
                features.add(ordered(name, v -> v instanceof Value.Time t ? t.nanos() : null, v -> clock((Long) v)));
            case TEXT, ANY -> texts(name, features);
            case BYTES -> features.add(length(name, "bytes", v -> v instanceof Value.Bytes b ? b.value().length : -1));
            default -> {
                // Of these, nothing but whether they are there.
            }
        }
        return features;
    }

    private static Feature same(String name) {
        return new Feature(v -> v, v -> name + " = " + told((Value) v), null, 0);
    }

    static String told(Value value) {
        String text = value.toString();
        String cut = text.length() > MAX_LETTERS ? text.substring(0, MAX_LETTERS) + "…" : text;
        return value instanceof Value.Text || value instanceof Value.Other
                ? "'" + cut.replace("'", "''").replaceAll("\\R", " ") + "'"
                : cut;
    }

    private static void numbers(String name, List<Feature> features) {
        features.add(ordered(name, Features::number, v -> ((BigDecimal) v).toPlainString()));
    }

    /** How it is told what a number leaves. */
    static String remainder(String name, int rest, int divisor) {
        return rest == 0 ? name + " divisible by " + divisor : name + " leaves " + rest + " when divided by " + divisor;
    }

    private static @Nullable Object number(Value value) {
        if (value instanceof Value.Int i) {
            return BigDecimal.valueOf(i.value());
        } else if (value instanceof Value.Decimal d) {
            return d.value().signum() == 0 ? BigDecimal.ZERO : d.value().stripTrailingZeros();
        } else if (value instanceof Value.Double d && Double.isFinite(d.value())) {
            return new BigDecimal(Double.toString(d.value() + 0.0)).stripTrailingZeros();
        } else if (value instanceof Value.Real r && Float.isFinite(r.value())) {
            return new BigDecimal(Float.toString(r.value() + 0.0f)).stripTrailingZeros();
        }
        return null;
    }

    private static Feature ordered(String name, Function<Value, @Nullable Object> of, Function<Object, String> told) {
        return new Feature(of, v -> name + " = " + told.apply(v), (from, to) -> between(name, from, to, told), 3);
    }

    private static String between(
            String name, @Nullable Object from, @Nullable Object to, Function<Object, String> told) {
        if (from == null) {
            return name + " at most " + told.apply(Objects.requireNonNull(to));
        }
        return to == null
                ? name + " at least " + told.apply(from)
                : name + " from " + told.apply(from) + " to " + told.apply(to);
    }

    private static void times(String name, List<Feature> features) {
        features.add(ordered(name, Features::time, v -> v.toString().replace('T', ' ')));
        features.add(new Feature(
                v -> time(v) instanceof LocalDateTime t ? t.getDayOfWeek() : null,
                v -> name + " on a " + ((java.time.DayOfWeek) v).getDisplayName(TextStyle.FULL, Locale.ENGLISH),
                null,
                2));
        features.add(new Feature(
                v -> !(v instanceof Value.Date) && time(v) instanceof LocalDateTime t ? (Object) t.getHour() : null,
                v -> String.format(Locale.ROOT, "%s between %02d:00 and %02d:59", name, (Integer) v, (Integer) v),
                null,
                2));
        features.add(new Feature(
                v -> time(v) instanceof LocalDateTime t ? (Object) t.getDayOfMonth() : null,
                v -> name + " on day " + v + " of a month",
                null,
                4));
    }

    private static @Nullable Object time(Value value) {
        if (value instanceof Value.Date d) {
            return d.value().atStartOfDay();
        } else if (value instanceof Value.Timestamp t) {
            return t.value();
        }
        return value instanceof Value.Instant i ? LocalDateTime.ofInstant(i.value(), ZoneOffset.UTC) : null;
    }

    private static String clock(long nanos) {
        return new Value.Time(nanos).toString();
    }

    private static void texts(String name, List<Feature> features) {
        features.add(
                new Feature(v -> v instanceof Value.Text ? v : null, v -> name + " = " + told((Value) v), null, 0));
        for (int letters = 1; letters <= MAX_PREFIX; letters++) {
            int most = letters;
            features.add(new Feature(
                    v -> v instanceof Value.Text t && t.value().length() > most
                            ? t.value().substring(0, most)
                            : null,
                    v -> name + " begins with " + told(new Value.Text((String) v)),
                    null,
                    3));
        }
        features.add(length(
                name,
                "characters",
                v -> v instanceof Value.Text t
                        ? t.value().codePointCount(0, t.value().length())
                        : -1));
        features.add(flag(name + " is empty", String::isEmpty));
        features.add(flag(name + " has characters beyond ASCII", t -> t.chars().anyMatch(c -> c > 0x7f)));
        features.add(
                flag(name + " has characters beyond Latin-1", t -> t.chars().anyMatch(c -> c > LATIN_1)));
        features.add(flag(
                name + " has characters of more than 16 bits",
                t -> t.chars().anyMatch(c -> c >= 0xd800 && c < 0xe000)));
        features.add(flag(name + " ends with a blank", t -> t.endsWith(" ")));
        features.add(flag(name + " begins with a blank", t -> t.startsWith(" ")));
        features.add(flag(name + " has a line end", t -> t.indexOf('\n') >= 0 || t.indexOf('\r') >= 0));
        features.add(flag(name + " has a quote", t -> t.indexOf('\'') >= 0 || t.indexOf('"') >= 0));
        features.add(flag(name + " has a backslash", t -> t.indexOf('\\') >= 0));
        features.add(flag(
                name + " is of digits alone", t -> !t.isEmpty() && t.chars().allMatch(c -> c >= '0' && c <= '9')));
    }

    private static Feature flag(String words, java.util.function.Predicate<String> is) {
        return new Feature(
                v -> v instanceof Value.Text t ? (Object) is.test(t.value()) : null,
                v -> v.equals(Boolean.TRUE) ? words : "",
                null,
                1);
    }

    private static Feature length(String name, String units, ToIntFunction<Value> of) {
        return new Feature(
                v -> of.applyAsInt(v) < 0 ? null : (Object) of.applyAsInt(v),
                v -> name + " of " + v + " " + units,
                (from, to) -> from == null
                        ? name + " of at most " + to + " " + units
                        : to == null
                                ? name + " longer than " + ((Integer) from - 1) + " " + units
                                : name + " of " + from + " to " + to + " " + units,
                3);
    }
}
