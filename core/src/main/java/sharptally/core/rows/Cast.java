package sharptally.core.rows;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.JsonText;
import sharptally.core.types.Kind;
import sharptally.core.types.ShortestDecimal;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * Brings the cells of one column to the kind in which they are compared, so that a difference of form alone (a date
 * held as text, a whole number held as a decimal, a padded CHAR) is no difference. A cell that does not faithfully have
 * that kind is left as it is, and so differs from every cell that has. Immutable.
 */
public final class Cast {
    /** A floating value as engines write it; blanks, leading zeros and plus signs say something else. */
    private static final Pattern FLOATING =
            Pattern.compile("-?(NaN|Infinity|(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d{1,4})?)");

    private static final Map<String, Integer> TRUTHS = Map.of("t", 1, "true", 1, "f", 0, "false", 0);
    private static final Set<String> ENDLESS = Set.of("infinity", "-infinity");

    private static final Pattern HEX = Pattern.compile("[0-9A-Fa-f]*");

    private static final long[] POWERS_OF_TEN = {
        1, 10, 100, 1_000, 10_000, 100_000, 1_000_000, 10_000_000, 100_000_000, 1_000_000_000
    };

    private final CanonicalType from;
    private final Kind to;
    private final int digits;
    private final Floating floating;

    /** Which exact number a floating value stands for where it is compared with one. */
    public enum Floating {
        /** The shortest decimal that reads back as it: against decimals, which is how such a value came to be. */
        SHORTEST,
        /** The number that it is: against whole numbers, of which each has a floating value of its own up to 2^53. */
        EXACT
    }

    /** What brings the writing of a column to the type as which it is read; empty where it stays as it is. */
    public static Optional<Cast> ofWriting(CanonicalType type) {
        return type.isWritten() && (type.kind() != Kind.TEXT || type.padded())
                ? Optional.of(new Cast(type.padded() ? type : CanonicalType.written(), type.kind()))
                : Optional.empty();
    }

    public Cast(CanonicalType from, Kind to) {
        this(from, to, CanonicalType.ANY_DIGITS);
    }

    /**
     * @param digits digits of a second to keep of times; further ones are cut
     */
    public Cast(CanonicalType from, Kind to, int digits) {
        this(from, to, digits, Floating.SHORTEST);
    }

    public Cast(CanonicalType from, Kind to, int digits, Floating floating) {
        this.from = from;
        this.to = to;
        this.digits = digits;
        this.floating = floating;
    }

    /** The column itself when nothing is to be done, else a new one with as many cells. */
    public Column apply(Column column) {
        if (!isNeeded(column)) {
            return column;
        }
        Column out = new Column(column.size());
        for (int row = 0; row < column.size(); row++) {
            cast(column, row, out);
        }
        return out;
    }

    private boolean isNeeded(Column column) {
        if (from.padded() && to == Kind.TEXT || to == Kind.JSON || isCut()) {
            return true;
        }
        if (to == Kind.ANY || to == Kind.OTHER) {
            return false;
        }
        byte wanted = tagOf(to);
        for (int row = 0; row < column.size(); row++) {
            byte tag = column.tags[row];
            boolean exactNumber = to == Kind.DECIMAL && tag >= Tag.INT && tag <= Tag.BIG;
            if (tag != wanted && tag != Tag.NULL && !exactNumber) {
                return true;
            }
        }
        return false;
    }

    private boolean isCut() {
        return digits < from.digits() && (to == Kind.TIME || to == Kind.TIMESTAMP || to == Kind.INSTANT);
    }

    private static byte tagOf(Kind kind) {
        return switch (kind) {
            case BOOLEAN -> Tag.BOOL;
            case INTEGER -> Tag.INT;
            case DECIMAL -> Tag.DECIMAL;
            case FLOAT -> Tag.FLOAT;
            case DOUBLE -> Tag.DOUBLE;
            case TEXT -> Tag.TEXT;
            case BYTES -> Tag.BYTES;
            case DATE -> Tag.DATE;
            case TIME -> Tag.TIME;
            case TIMESTAMP -> Tag.TIMESTAMP;
            case INSTANT -> Tag.INSTANT;
            case UUID -> Tag.UUID;
            case JSON, BITS -> Tag.OTHER;
            case OTHER, ANY -> throw new IllegalStateException("no tag for " + kind);
        };
    }

    private void cast(Column in, int row, Column out) {
        boolean done = !in.isNull(row) && (in.tags[row] == Tag.TEXT && addUsual(in, row, out) || castAny(in, row, out));
        if (!done && !addEndless(in, row, out)) {
            out.addCellOf(in, row);
        }
    }

    /** Text in the form that nearly all values of the kind are written in. */
    private boolean addUsual(Column in, int row, Column out) {
        int from = (int) in.payload[row];
        int length = in.second[row];
        return switch (to) {
            case INTEGER -> UsualText.addInteger(in.arena, from, length, out);
            case DECIMAL -> UsualText.addDecimal(in.arena, from, length, out);
            case FLOAT, DOUBLE -> UsualText.addDouble(in.arena, from, length, out);
            case DATE -> UsualText.addDate(in.arena, from, length, out);
            case TIMESTAMP ->
                UsualText.addTimestamp(in.arena, from, length, (second, nanos) -> out.addTimestamp(second, cut(nanos)));
            case INSTANT ->
                UsualText.addInstant(in.arena, from, length, (second, nanos) -> out.addInstant(second, cut(nanos)));
            default -> false;
        };
    }

    private boolean castAny(Column in, int row, Column out) {
        return switch (to) {
            case BOOLEAN -> toBoolean(in, row, out);
            case INTEGER -> toInteger(in, row, out);
            case DECIMAL -> toDecimal(in, row, out);
            case FLOAT, DOUBLE -> toDouble(in, row, out);
            case TEXT -> toText(in, row, out);
            case DATE -> toDate(in, row, out);
            case TIME -> toTime(in, row, out);
            case TIMESTAMP -> toTimestamp(in, row, out);
            case INSTANT -> toInstant(in, row, out);
            case UUID -> toUuid(in, row, out);
            case JSON -> toJson(in, row, out);
            case BITS -> toBits(in, row, out);
            case BYTES -> toBytes(in, row, out);
            case OTHER, ANY -> false;
        };
    }

    /** The ends of time, as databases that have them write them into files. */
    private boolean addEndless(Column in, int row, Column out) {
        boolean date = to == Kind.DATE || to == Kind.TIMESTAMP || to == Kind.INSTANT;
        if (!date || !from.isWritten() || in.tags[row] != Tag.TEXT || !ENDLESS.contains(in.text(row))) {
            return false;
        }
        out.add(new Value.Other("time", in.text(row)));
        return true;
    }

    private boolean toBoolean(Column in, int row, Column out) {
        if (in.tags[row] == Tag.INT && (in.payload[row] == 0 || in.payload[row] == 1)) {
            out.addBoolean(in.payload[row] == 1);
            return true;
        }
        if (in.tags[row] == Tag.TEXT) {
            String text = in.text(row);
            if (text.equalsIgnoreCase("true") || text.equalsIgnoreCase("false")) {
                out.addBoolean(text.equalsIgnoreCase("true"));
                return true;
            }
            // As databases write them into files.
            if (from.isWritten() && text.length() == 1 && "tf10".contains(text)) {
                out.addBoolean("t1".contains(text));
                return true;
            }
        }
        return false;
    }

    private boolean toInteger(Column in, int row, Column out) {
        if (from.isWritten()
                && in.tags[row] == Tag.TEXT
                && TRUTHS.containsKey(in.text(row).toLowerCase(Locale.ROOT))) {
            // As databases with booleans write them, for one that has numbers in their place.
            out.addInt(TRUTHS.get(in.text(row).toLowerCase(Locale.ROOT)));
            return true;
        }
        Optional<BigDecimal> number = number(in, row, Floating.EXACT);
        if (number.isEmpty() || number.get().stripTrailingZeros().scale() > 0) {
            return false;
        }
        if (number.get().abs().compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) > 0) {
            out.addDecimal(number.get());
        } else {
            out.addInt(number.get().longValueExact());
        }
        return true;
    }

    private boolean toDecimal(Column in, int row, Column out) {
        if (in.tags[row] == Tag.DOUBLE && floating == Floating.SHORTEST) {
            double value = Double.longBitsToDouble(in.payload[row]);
            int places = ShortestDecimal.placesOf(value);
            if (places >= 0) {
                out.addDecimal(ShortestDecimal.digits(value, places), places);
                return true;
            }
        }
        Optional<BigDecimal> number = number(in, row, floating);
        number.ifPresent(out::addDecimal);
        return number.isPresent();
    }

    /** The exact number that a cell stands for. */
    private static Optional<BigDecimal> number(Column in, int row, Floating floating) {
        switch (in.tags[row]) {
            case Tag.BOOL:
            case Tag.INT:
                return Optional.of(BigDecimal.valueOf(in.payload[row]));
            case Tag.DECIMAL:
            case Tag.BIG:
                return Optional.of(in.decimal(row));
            case Tag.FLOAT:
            case Tag.DOUBLE:
                double value = Double.longBitsToDouble(in.payload[row]);
                if (!Double.isFinite(value)) {
                    return Optional.empty();
                }
                boolean single = in.tags[row] == Tag.FLOAT;
                double shortestIsExact = single ? 0x1p24 : 0x1p53;
                if (value == Math.rint(value) && Math.abs(value) <= shortestIsExact) {
                    return Optional.of(BigDecimal.valueOf((long) value));
                }
                if (floating == Floating.EXACT) {
                    return Optional.of(new BigDecimal(value));
                }
                return Optional.of(single ? ShortestDecimal.of((float) value) : ShortestDecimal.of(value));
            case Tag.TEXT:
                return numberWrittenPlainly(in.text(row));
            case Tag.OTHER:
                Value.Other other = (Value.Other) in.object(row);
                return other.type().equals("bits")
                        ? Optional.of(new BigDecimal(new BigInteger(other.text(), 2)))
                        : Optional.empty();
            default:
                return Optional.empty();
        }
    }

    /** Only text as a number would be written: 017, +17, 1e3 and blanks are text that says something else. */
    private static Optional<BigDecimal> numberWrittenPlainly(String text) {
        if (text.isEmpty() || text.length() > 1100) {
            return Optional.empty();
        }
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if ((c < '0' || c > '9') && c != '.' && c != '-') {
                return Optional.empty();
            }
        }
        try {
            BigDecimal number = new BigDecimal(text);
            return number.toPlainString().equals(text) ? Optional.of(number) : Optional.empty();
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    private boolean toDouble(Column in, int row, Column out) {
        byte tag = in.tags[row];
        double value;
        if (tag == Tag.FLOAT) {
            value = Double.longBitsToDouble(in.payload[row]);
        } else if (tag == Tag.TEXT && FLOATING.matcher(in.text(row)).matches()) {
            value = Double.parseDouble(in.text(row));
            if (isBeyond(value, in.text(row))) {
                return false;
            }
        } else {
            return false;
        }
        out.addDouble(value);
        return true;
    }

    /** Whether text says a number for which there is no floating value, and which was read as infinity or zero. */
    private static boolean isBeyond(double read, String text) {
        return Double.isInfinite(read) && !text.endsWith("Infinity")
                || read == 0 && text.split("[eE]")[0].chars().anyMatch(c -> c > '0' && c <= '9');
    }

    /** The digits of bytes as databases write them into files: {@code \\x00ff}, {@code 0x00FF} or {@code 00FF}. */
    private boolean toBytes(Column in, int row, Column out) {
        if (!from.isWritten() || in.tags[row] != Tag.TEXT) {
            return false;
        }
        String text = in.text(row);
        String digits = text.startsWith("\\x") || text.startsWith("0x") ? text.substring(2) : text;
        if (digits.length() % 2 != 0 || !HEX.matcher(digits).matches()) {
            return false;
        }
        out.addBytes(HexFormat.of().parseHex(digits));
        return true;
    }

    private boolean toText(Column in, int row, Column out) {
        if (in.tags[row] == Tag.OTHER) {
            out.addText(((Value.Other) in.object(row)).text());
            return true;
        }
        if (!from.padded() || in.tags[row] != Tag.TEXT) {
            return false;
        }
        int start = (int) in.payload[row];
        int length = in.second[row];
        while (length > 0 && in.arena[start + length - 1] == ' ') {
            length--;
        }
        out.addText(in.arena, start, length);
        return true;
    }

    private static boolean toDate(Column in, int row, Column out) {
        Optional<LocalDateTime> read =
                dateTime(in, row).filter(t -> t.toLocalTime().toNanoOfDay() == 0);
        read.ifPresent(t -> out.addDate(t.toLocalDate().toEpochDay()));
        return read.isPresent();
    }

    private boolean toTime(Column in, int row, Column out) {
        Optional<Long> read = switch (in.tags[row]) {
            case Tag.TIME -> Optional.of(in.payload[row]);
            case Tag.TEXT -> TimeText.readTime(in.text(row));
            default -> Optional.empty();
        };
        read.ifPresent(nanos -> out.addTime(nanos - nanos % unit()));
        return read.isPresent();
    }

    /** Nanoseconds in the last digit that is kept. */
    private long unit() {
        return POWERS_OF_TEN[CanonicalType.ANY_DIGITS - digits];
    }

    private int cut(int nanos) {
        return (int) (nanos - nanos % unit());
    }

    private static boolean toBits(Column in, int row, Column out) {
        if (in.tags[row] != Tag.TEXT || !in.text(row).matches("[01]+")) {
            return false;
        }
        out.add(new Value.Other("bits", in.text(row)));
        return true;
    }

    private static boolean toJson(Column in, int row, Column out) {
        String text;
        if (in.tags[row] == Tag.TEXT) {
            text = in.text(row);
        } else if (in.tags[row] == Tag.OTHER) {
            text = ((Value.Other) in.object(row)).text();
        } else {
            return false;
        }
        Optional<String> canonical = JsonText.canonical(text);
        canonical.ifPresent(c -> out.add(new Value.Other("json", c)));
        return canonical.isPresent();
    }

    private boolean toTimestamp(Column in, int row, Column out) {
        if (in.tags[row] == Tag.TIMESTAMP) {
            out.addTimestamp(in.payload[row], cut(in.second[row]));
            return true;
        }
        Optional<LocalDateTime> read = dateTime(in, row);
        read.ifPresent(t -> out.addTimestamp(t.toEpochSecond(ZoneOffset.UTC), cut(t.getNano())));
        return read.isPresent();
    }

    private static Optional<LocalDateTime> dateTime(Column in, int row) {
        return switch (in.tags[row]) {
            case Tag.DATE ->
                Optional.of(java.time.LocalDate.ofEpochDay(in.payload[row]).atStartOfDay());
            case Tag.TIMESTAMP ->
                Optional.of(LocalDateTime.ofEpochSecond(in.payload[row], in.second[row], ZoneOffset.UTC));
            case Tag.TEXT -> TimeText.readTimestamp(in.text(row));
            default -> Optional.empty();
        };
    }

    private boolean toInstant(Column in, int row, Column out) {
        byte tag = in.tags[row];
        if (tag == Tag.INSTANT || tag == Tag.TIMESTAMP) {
            out.addInstant(in.payload[row], cut(in.second[row]));
            return true;
        }
        if (tag != Tag.TEXT) {
            return false;
        }
        Optional<Instant> read = TimeText.readInstant(in.text(row));
        read.ifPresent(t -> out.addInstant(t.getEpochSecond(), cut(t.getNano())));
        return read.isPresent();
    }

    private static boolean toUuid(Column in, int row, Column out) {
        if (in.tags[row] == Tag.BYTES && in.second[row] == 16) {
            out.addSlice(Tag.UUID, in.arena, (int) in.payload[row], 16);
            return true;
        }
        if (in.tags[row] == Tag.TEXT && in.second[row] == 36 && isUuid(in, (int) in.payload[row])) {
            var uuid = java.util.UUID.fromString(in.text(row));
            out.addUuid(uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
            return true;
        }
        return false;
    }

    /** Digits in groups of 8, 4, 4, 4 and 12; Java reads groups of any length. */
    private static boolean isUuid(Column in, int start) {
        for (int i = 0; i < 36; i++) {
            byte c = in.arena[start + i];
            boolean hyphen = i == 8 || i == 13 || i == 18 || i == 23;
            boolean digit = c >= '0' && c <= '9' || c >= 'a' && c <= 'f' || c >= 'A' && c <= 'F';
            if (hyphen ? c != '-' : !digit) {
                return false;
            }
        }
        return true;
    }
}
