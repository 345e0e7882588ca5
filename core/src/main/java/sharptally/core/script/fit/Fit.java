package sharptally.core.script.fit;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.match.ShapeDifferences;
import sharptally.core.shape.ColumnShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** What becomes of a value in a column, as far as the column's declaration tells. */
public final class Fit {
    /** Precision and scale; where no scale is declared, it is not known. */
    private static final Pattern SIZED = Pattern.compile("\\((\\d{1,9})\\s*,\\s*(\\d{1,9})\\)");

    private static final int BITS_OF_BYTE = 8;
    private static final long NANOS_OF_SECOND = 1_000_000_000;

    /** The bytes of whole numbers, by the first word of a declared type. */
    private static final Map<String, Integer> BYTES = Map.ofEntries(
            Map.entry("tinyint", 1),
            Map.entry("smallint", 2),
            Map.entry("int2", 2),
            Map.entry("mediumint", 3),
            Map.entry("int", 4),
            Map.entry("int4", 4),
            Map.entry("integer", 4),
            Map.entry("bigint", 8),
            Map.entry("int8", 8),
            Map.entry("utinyint", 1),
            Map.entry("usmallint", 2),
            Map.entry("uinteger", 4),
            Map.entry("ubigint", 8));

    /** The bytes that texts and bytes of a type hold whose length is not declared. */
    private static final Map<String, Long> LONGEST = Map.of(
            "tinytext",
            255L,
            "text",
            65_535L,
            "mediumtext",
            16_777_215L,
            "tinyblob",
            255L,
            "blob",
            65_535L,
            "mediumblob",
            16_777_215L);

    private static final Map<String, Charset> NARROW =
            Map.of("latin1", Charset.forName("windows-1252"), "ascii", StandardCharsets.US_ASCII);

    private Fit() {}

    /**
     * The value that a column makes of one that it can't hold exactly: rounded to its digits, or to the nearest floating
     * number; empty where it holds the value as it is, or does not take it at all.
     */
    public static Optional<Value> rounded(ColumnShape column, Value value) {
        CanonicalType type = column.type().orElseThrow();
        return switch (type.kind()) {
            case DECIMAL -> exact(value).flatMap(v -> decimal(column, v));
            case INTEGER -> value instanceof Value.Decimal v ? whole(v.value()) : Optional.empty();
            case FLOAT, DOUBLE -> floating(type.kind(), value);
            case TIME, TIMESTAMP, INSTANT -> time(type.digits(), value);
            default -> Optional.empty();
        };
    }

    /** Whether {@link #rounded} may ever give something. */
    public static boolean mayRound(ColumnShape column) {
        return column.type()
                .map(type -> switch (type.kind()) {
                    case DECIMAL -> SIZED.matcher(column.declaredType()).find();
                    case INTEGER, FLOAT, DOUBLE -> true;
                    case TIME, TIMESTAMP, INSTANT -> type.digits() < CanonicalType.ANY_DIGITS;
                    default -> false;
                })
                .orElse(false);
    }

    /** Whether a column holds equal values in several forms, such as 1.0 and 1.00. */
    public static boolean hasForms(ColumnShape column) {
        Kind kind = column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
        return kind == Kind.ANY
                || kind == Kind.JSON
                || kind == Kind.DECIMAL && !SIZED.matcher(column.declaredType()).find();
    }

    private static Optional<BigDecimal> exact(Value value) {
        return value instanceof Value.Decimal v
                ? Optional.of(v.value())
                : value instanceof Value.Int v ? Optional.of(BigDecimal.valueOf(v.value())) : Optional.empty();
    }

    private static Optional<Value> decimal(ColumnShape column, BigDecimal value) {
        Matcher sized = SIZED.matcher(column.declaredType());
        if (!sized.find()) {
            return Optional.empty();
        }
        int scale = Integer.parseInt(sized.group(2));
        BigDecimal rounded = value.setScale(scale, RoundingMode.HALF_UP);
        return rounded.compareTo(value) == 0 ? Optional.empty() : Optional.of(new Value.Decimal(rounded));
    }

    private static Optional<Value> whole(BigDecimal value) {
        BigInteger rounded = value.setScale(0, RoundingMode.HALF_UP).toBigInteger();
        return new BigDecimal(rounded).compareTo(value) == 0 || rounded.bitLength() >= Long.SIZE
                ? Optional.empty()
                : Optional.of(new Value.Int(rounded.longValue()));
    }

    /** A floating number stands for the shortest decimal that reads back as it. */
    private static Optional<Value> floating(Kind kind, Value value) {
        if (kind == Kind.FLOAT && value instanceof Value.Double v) {
            float nearest = (float) v.value();
            return Double.compare(nearest, v.value()) == 0 || Float.isInfinite(nearest)
                    ? Optional.empty()
                    : Optional.of(new Value.Real(nearest));
        }
        Optional<BigDecimal> exact = exact(value);
        if (exact.isEmpty()) {
            return Optional.empty();
        }
        double nearest =
                kind == Kind.FLOAT ? exact.get().floatValue() : exact.get().doubleValue();
        if (Double.isInfinite(nearest)) {
            return Optional.empty();
        }
        Value told = kind == Kind.FLOAT ? new Value.Real((float) nearest) : new Value.Double(nearest);
        return new BigDecimal(told.toString()).compareTo(exact.get()) == 0 ? Optional.empty() : Optional.of(told);
    }

    /** A decimal in the terms of a column of floating numbers: as a decimal it would not equal what the column holds. */
    public static Value floating(ColumnShape column, Value value) {
        Kind kind = column.type().orElseThrow().kind();
        return kind == Kind.FLOAT && tooLarge(value).isEmpty()
                ? exact(value).<Value>map(v -> new Value.Real(v.floatValue())).orElse(value)
                : kind == Kind.DOUBLE
                        ? exact(value)
                                .map(BigDecimal::doubleValue)
                                .filter(Double::isFinite)
                                .<Value>map(Value.Double::new)
                                .orElse(value)
                        : value;
    }

    /** Engines differ in whether they cut or round; what is written for them here is cut. */
    private static Optional<Value> time(int digits, Value value) {
        long unit = NANOS_OF_SECOND;
        for (int i = 0; i < digits; i++) {
            unit /= 10;
        }
        if (value instanceof Value.Time v) {
            long rest = Math.floorMod(v.nanos(), unit);
            return rest == 0 ? Optional.empty() : Optional.of(new Value.Time(v.nanos() - rest));
        } else if (value instanceof Value.Timestamp v) {
            long rest = v.value().getNano() % unit;
            return rest == 0
                    ? Optional.empty()
                    : Optional.of(new Value.Timestamp(v.value().minusNanos(rest)));
        } else if (value instanceof Value.Instant v) {
            long rest = v.value().getNano() % unit;
            return rest == 0
                    ? Optional.empty()
                    : Optional.of(new Value.Instant(v.value().minusNanos(rest)));
        }
        return Optional.empty();
    }

    /** Why a column does not take a value, as {@code holds up to 20 characters}; empty where nothing speaks against it. */
    public static Optional<String> refusal(SqlDialect dialect, ColumnShape column, Value value) {
        if (value instanceof Value.Null) {
            return column.nullable() ? Optional.empty() : Optional.of("must not be NULL");
        }
        String declared = column.declaredType().toLowerCase(Locale.ROOT);
        return switch (column.type().orElseThrow().kind()) {
            case TEXT -> text(dialect, column, declared, value.toString());
            case BYTES -> value instanceof Value.Bytes v ? bytes(column, declared, v.value().length) : Optional.empty();
            case DECIMAL -> exact(value).flatMap(v -> digits(column, declared, v));
            case INTEGER -> exact(value).flatMap(v -> range(declared, v));
            case FLOAT -> tooLarge(value);
            default -> Optional.empty();
        };
    }

    private static Optional<String> text(SqlDialect dialect, ColumnShape column, String declared, String text) {
        OptionalLong most = declared.contains("binary") ? OptionalLong.empty() : ShapeDifferences.length(column);
        if (most.isPresent() && dialect.characters(text) > most.getAsLong()) {
            return Optional.of("holds up to " + most.getAsLong() + " characters");
        }
        String collation = column.collation().orElse("").toLowerCase(Locale.ROOT);
        if (collation.startsWith("utf8_") || collation.startsWith("utf8mb3_")) {
            boolean beyond = text.codePoints().anyMatch(c -> c > Character.MAX_VALUE);
            return beyond ? Optional.of("holds no characters of four bytes (" + collation + ")") : Optional.empty();
        }
        Charset narrow = NARROW.get(collation.replaceAll("_.*", ""));
        if (narrow != null && !narrow.newEncoder().canEncode(text)) {
            return Optional.of("holds only characters of its own set (" + collation + ")");
        }
        Long limit = LONGEST.get(declared);
        return limit != null && text.getBytes(StandardCharsets.UTF_8).length > limit && isLimited(collation)
                ? Optional.of("holds up to " + limit + " bytes")
                : Optional.empty();
    }

    /** Whether a collation is of an engine whose {@code text} has a limit: those begin with a character set. */
    private static boolean isLimited(String collation) {
        return collation.matches("(utf8(mb[34])?|latin\\d|ascii|ucs2|utf16|utf32|cp\\d+|koi8[ru])_.*");
    }

    private static Optional<String> bytes(ColumnShape column, String declared, long length) {
        OptionalLong most = ShapeDifferences.length(column);
        long limit = most.orElse(declared.equals("tinyblob") ? LONGEST.get(declared) : Long.MAX_VALUE);
        return length > limit ? Optional.of("holds up to " + limit + " bytes") : Optional.empty();
    }

    private static Optional<String> digits(ColumnShape column, String declared, BigDecimal value) {
        if (declared.contains("unsigned") && value.signum() < 0) {
            return Optional.of("holds no negative numbers");
        }
        Matcher sized = SIZED.matcher(declared);
        if (!sized.find()) {
            return Optional.empty();
        }
        int scale = Integer.parseInt(sized.group(2));
        int before = Integer.parseInt(sized.group(1)) - scale;
        BigDecimal rounded = value.setScale(scale, RoundingMode.HALF_UP);
        return rounded.abs().compareTo(BigDecimal.TEN.pow(Math.max(0, before))) >= 0
                ? Optional.of("holds up to " + before + (before == 1 ? " digit" : " digits") + " before the point")
                : Optional.empty();
    }

    private static Optional<String> range(String declared, BigDecimal value) {
        Integer bytes = BYTES.get(declared.replaceAll("[^a-z0-9].*", ""));
        if (bytes == null) {
            return Optional.empty();
        }
        boolean unsigned = declared.contains("unsigned") || declared.startsWith("u");
        BigInteger span = BigInteger.ONE.shiftLeft(bytes * BITS_OF_BYTE - (unsigned ? 0 : 1));
        BigInteger least = unsigned ? BigInteger.ZERO : span.negate();
        BigInteger whole = value.setScale(0, RoundingMode.HALF_UP).toBigInteger();
        return whole.compareTo(least) < 0 || whole.compareTo(span) >= 0
                ? Optional.of("holds numbers from " + least + " to " + span.subtract(BigInteger.ONE))
                : Optional.empty();
    }

    private static Optional<String> tooLarge(Value value) {
        boolean finite =
                value instanceof Value.Double v && Double.isFinite(v.value()) && Float.isInfinite((float) v.value());
        boolean exact =
                exact(value).filter(v -> Float.isInfinite(v.floatValue())).isPresent();
        return finite || exact ? Optional.of("holds numbers up to " + Float.MAX_VALUE) : Optional.empty();
    }
}
