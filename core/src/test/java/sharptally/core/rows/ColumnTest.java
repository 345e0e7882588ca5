package sharptally.core.rows;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

class ColumnTest {
    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    @Test
    void prefixesNeverContradictTheOrder() {
        Column column = new Column(4);
        for (int i = 0; i < 2_000; i++) {
            column.add(RandomValues.any(random));
        }
        for (double edge :
                new double[] {0.0, -0.0, Double.NaN, 1e300, -1e300, Double.MIN_VALUE, 1L << 53, (1L << 53) + 2}) {
            column.addDouble(edge);
        }
        for (long edge : new long[] {0, -1, Long.MIN_VALUE, Long.MAX_VALUE, (1L << 53) + 1}) {
            column.addInt(edge);
            column.addDate(edge);
            column.addTimestamp(edge, 999_999_999);
        }
        for (int i = 0; i < column.size(); i++) {
            for (int j = 0; j < column.size(); j += 1 + random.nextInt(3)) {
                int prefix = Long.compare(CellOrder.prefix(column, i), CellOrder.prefix(column, j));
                int order = CellOrder.compare(column, i, column, j);
                assertThat(prefix == 0 || Integer.signum(order) == prefix)
                        .as("seed %d: %s and %s", seed, i, j)
                        .isTrue();
            }
        }
    }

    /** A floating value beside the decimals that are next to it, and those that are exactly the same. */
    @Test
    void floatingValuesAndDecimalsAreOrderedByTheirExactValues() {
        for (int i = 0; i < 100_000; i++) {
            int places = random.nextInt(26) - 1;
            long digits = switch (i % 4) {
                case 0 -> random.nextLong();
                case 1 -> (1L << 53) + random.nextInt(5) - 2;
                case 2 -> random.nextInt(2_000) * (long) Math.pow(5, Math.max(0, places));
                default -> random.nextLong(1_000_000_000_000_000L) - 500_000_000_000_000L;
            };
            BigDecimal decimal = BigDecimal.valueOf(digits, places);
            double near = decimal.doubleValue();
            double value = random.nextInt(4) == 0 ? Math.nextAfter(near, random.nextInt(3) - 1) : near;
            Column column = new Column(3);
            column.addDouble(i % 5 == 0 ? (float) value : value);
            column.addDecimal(digits, places);
            column.addInt(digits);
            double held = Double.longBitsToDouble(column.payload[0]);
            for (int other : new int[] {1, 2}) {
                int truth = new BigDecimal(held).compareTo(other == 1 ? decimal : BigDecimal.valueOf(digits));
                String which = "seed " + seed + ": " + held + ", " + digits + ", " + places;
                assertThat(CellOrder.compare(column, 0, column, other))
                        .as(which)
                        .isEqualTo(truth);
                assertThat(CellOrder.compare(column, other, column, 0))
                        .as(which)
                        .isEqualTo(-truth);
                assertThat(CellOrder.same(column, 0, column, other)).as(which).isEqualTo(truth == 0);
                assertThat(CellOrder.same(column, other, column, 0)).as(which).isEqualTo(truth == 0);
            }
        }
    }

    @Test
    void decimalsOfAnyPlacesAreOrderedByTheirValues() {
        for (int i = 0; i < 100_000; i++) {
            int places = random.nextInt(30) - 5;
            long digits = i % 2 == 0 ? random.nextLong() : random.nextLong() >> random.nextInt(60);
            int more = random.nextInt(20);
            BigDecimal other = BigDecimal.valueOf(digits, places)
                    .setScale(places + more)
                    .add(BigDecimal.valueOf(random.nextInt(3) - 1, places + more));
            Column column = new Column(2);
            column.addDecimal(digits, places);
            column.addDecimal(other);
            int truth = BigDecimal.valueOf(digits, places).compareTo(other);
            String which = "seed " + seed + ": " + digits + ", " + places + ", " + other;
            assertThat(CellOrder.compare(column, 0, column, 1)).as(which).isEqualTo(truth);
            assertThat(CellOrder.compare(column, 1, column, 0)).as(which).isEqualTo(-truth);
            assertThat(CellOrder.same(column, 0, column, 1)).as(which).isEqualTo(truth == 0);
        }
    }

    @Test
    void everyValueComesBackAsItWasPutIn() throws IOException {
        List<Value> values = new ArrayList<>();
        Column column = new Column(4);
        for (int i = 0; i < 5_000; i++) {
            values.add(RandomValues.any(random));
            column.add(values.get(i));
        }
        var bytes = new ByteArrayOutputStream();
        RowBytes rows = new RowBytes(new RowBatch(List.of(column), values.size()));
        for (int i = 0; i < values.size(); i++) {
            rows.writeTo(bytes, i);
        }
        Column copied = new Column(0);
        Column read = new Column(0);
        var in = new RowIn(new ByteArrayInputStream(bytes.toByteArray()), 300);
        for (int i = 0; i < values.size(); i++) {
            copied.addCellOf(column, i);
            RowCodec.read(in, List.of(read));
            assertThat(List.of(column.value(i), copied.value(i), read.value(i)))
                    .as("seed %d", seed)
                    .containsOnly(values.get(i));
        }
    }

    @Test
    void decimalsByTheirTextAreThoseByTheirNumber() {
        for (int i = 0; i < 5_000; i++) {
            int digits = 1 + random.nextInt(24);
            String text =
                    new BigDecimal(new BigInteger(digits * 3, random), random.nextInt(digits + 3)).toPlainString();
            text = random.nextBoolean() ? "-" + text : text;
            text = random.nextInt(9) == 0 ? "000" + text.replace("-", "") : text;
            text = random.nextInt(9) == 0 ? text + "E" + (random.nextInt(9) - 4) : text;
            Column column = new Column(2);
            column.addDecimal(text);
            column.addDecimal(new BigDecimal(text));
            assertThat(column.value(0)).as("seed %d: %s", seed, text).isEqualTo(column.value(1));
        }
        for (String none : List.of("", "-", ".", "1.2.3", "--1", "1-", "NaN")) {
            assertThatThrownBy(() -> new Column(1).addDecimal(none))
                    .as(none)
                    .isInstanceOfAny(NumberFormatException.class, AssertionError.class);
        }
    }

    @Test
    void unpairedSurrogatesAreNotMixedUpWithQuestionMarks() {
        Column column = new Column(2);
        column.addText("a\uD800");
        column.addText("a?");
        column.addText("a\uDC00");
        assertThat(CellOrder.same(column, 0, column, 1)).isFalse();
        assertThat(CellOrder.same(column, 0, column, 2)).isFalse();
        assertThat(column.value(0)).isInstanceOf(Value.BrokenText.class);
    }

    @Test
    void orderIsTotalAndAgreesWithSameness() {
        Column column = new Column(300);
        for (int i = 0; i < 300; i++) {
            column.add(RandomValues.any(random));
        }
        for (int n = 0; n < 200_000; n++) {
            int a = random.nextInt(300);
            int b = random.nextInt(300);
            int c = random.nextInt(300);
            int ab = CellOrder.compare(column, a, column, b);
            int bc = CellOrder.compare(column, b, column, c);
            assertThat(Integer.signum(ab))
                    .as("seed %d: %s, %s", seed, column.value(a), column.value(b))
                    .isEqualTo(-Integer.signum(CellOrder.compare(column, b, column, a)));
            assertThat(CellOrder.same(column, a, column, b)).isEqualTo(ab == 0);
            if (ab <= 0 && bc <= 0) {
                assertThat(CellOrder.compare(column, a, column, c))
                        .as("seed %d: %s, %s, %s", seed, column.value(a), column.value(b), column.value(c))
                        .isLessThanOrEqualTo(0);
            }
        }
    }

    @Test
    void textIsOrderedByCodePointWhateverItsLetters() {
        Column column = new Column(2);
        column.addText("\uFFFC");
        column.addText("🌊");
        assertThat(CellOrder.compare(column, 0, column, 1)).isNegative();
    }

    @Test
    void commonKindDoesNotDependOnTheSide() {
        for (Kind one : Kind.values()) {
            for (Kind other : Kind.values()) {
                assertThat(Kind.common(one, other)).isEqualTo(Kind.common(other, one));
            }
        }
    }

    @Test
    void formAloneIsNoDifferenceAndValueIs() {
        assertSame(Kind.INTEGER, new Value.Int(1), new Value.Bool(true));
        assertSame(Kind.DECIMAL, decimal("1.50"), decimal("1.5"));
        assertSame(Kind.DECIMAL, decimal("0.1"), new Value.Double(0.1));
        assertSame(Kind.DECIMAL, decimal("0.1"), new Value.Real(0.1f));
        assertSame(Kind.DECIMAL, new Value.Int(7), new Value.Double(7.0));
        assertSame(Kind.DOUBLE, new Value.Double(0.0), new Value.Double(-0.0));
        assertSame(Kind.DATE, text("2024-02-29"), new Value.Date(java.time.LocalDate.of(2024, 2, 29)));
        assertSame(Kind.TIMESTAMP, text("2024-02-29T10:00:00.500"), text("2024-02-29 10:00:00.5"));
        assertSame(Kind.UUID, text("00000000-0000-0001-0000-000000000002"), new Value.Uuid(new java.util.UUID(1, 2)));
        assertDiffer(Kind.DECIMAL, decimal("0.1"), new Value.Double(Math.nextUp(0.1)));
        assertDiffer(Kind.DOUBLE, new Value.Double(0.1), new Value.Real(0.1f));
        assertDiffer(Kind.INTEGER, new Value.Int(17), text("017"));
        assertDiffer(Kind.INTEGER, new Value.Int(Long.MAX_VALUE), new Value.Double(Long.MAX_VALUE));
        assertSame(Kind.DOUBLE, new Value.Double(1e-7), text("1e-07"));
        assertDiffer(Kind.DOUBLE, new Value.Double(0.1), text(" 0.1"));
        assertDiffer(Kind.DOUBLE, new Value.Double(0.1), text("0.1d"));
        assertDiffer(Kind.DOUBLE, new Value.Double(7.5), text("007.5"));
        assertDiffer(Kind.TEXT, text(""), Value.NULL);
        assertDiffer(Kind.TEXT, text("a"), text("a "));
        assertDiffer(Kind.TEXT, text("a"), text("A"));
        assertDiffer(Kind.DATE, text("2023-02-29"), text("2023-03-01"));
        assertDiffer(Kind.BOOLEAN, new Value.Int(2), new Value.Bool(true));
        Column padded = cast(CanonicalType.paddedText(), Kind.TEXT, text("a  "));
        assertThat(CellOrder.same(padded, 0, cast(CanonicalType.of(Kind.TEXT), Kind.TEXT, text("a")), 0))
                .isTrue();
    }

    private static Value text(String text) {
        return new Value.Text(text);
    }

    private static Value decimal(String digits) {
        return new Value.Decimal(new java.math.BigDecimal(digits));
    }

    private static void assertSame(Kind kind, Value one, Value other) {
        assertThat(same(kind, one, other)).as("%s %s", one, other).isTrue();
    }

    private static void assertDiffer(Kind kind, Value one, Value other) {
        assertThat(same(kind, one, other)).as("%s %s", one, other).isFalse();
    }

    private static boolean same(Kind kind, Value one, Value other) {
        CanonicalType any = CanonicalType.of(Kind.ANY);
        return CellOrder.same(cast(any, kind, one), 0, cast(any, kind, other), 0);
    }

    private static Column cast(CanonicalType from, Kind to, Value value) {
        Column column = new Column(1);
        column.add(value);
        return new Cast(from, to).apply(column);
    }
}
