package sharptally.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.UUID;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.core.types.Value;
import sharptally.formats.run.Json;
import sharptally.formats.value.ValueJson;

class ValueJsonTest {
    static Stream<Value> values() {
        return Stream.of(
                Value.NULL,
                new Value.Bool(true),
                new Value.Int(0),
                new Value.Int(Long.MIN_VALUE),
                new Value.Int(Long.MAX_VALUE),
                new Value.Int((1L << 53) + 1),
                new Value.Decimal(new BigDecimal("1.50")),
                new Value.Decimal(new BigDecimal("-123456789012345678901234567890.123456789")),
                new Value.Real(0.1f),
                new Value.Double(4.9e-324),
                new Value.Double(Double.NaN),
                new Value.Double(Double.NEGATIVE_INFINITY),
                new Value.Text(""),
                new Value.Text("NULL \" \\ \n \0 \u2028 🌊"),
                new Value.BrokenText(new byte[] {(byte) 0xC3}),
                new Value.Bytes(new byte[] {0, -1}),
                new Value.Date(LocalDate.of(-4712, 1, 1)),
                new Value.Date(LocalDate.of(99_999, 12, 31)),
                new Value.Time(86_399_999_999_999L),
                new Value.Time(-3_600_000_000_001L),
                new Value.Timestamp(LocalDateTime.of(1582, 10, 10, 1, 2, 3, 4)),
                new Value.Timestamp(LocalDateTime.of(294_276, 12, 31, 23, 59)),
                new Value.Instant(Instant.parse("2026-03-29T01:30:00.123456789Z")),
                new Value.Uuid(new UUID(-1, 1)),
                new Value.Other("INTERVAL", "1 day"));
    }

    @ParameterizedTest
    @MethodSource("values")
    void valueComesBackExactly(Value value) throws Exception {
        var bytes = new ByteArrayOutputStream();
        try (var out = Json.lines(bytes)) {
            ValueJson.write(out, value);
        }
        assertThat(ValueJson.read(Json.MAPPER.readTree(bytes.toByteArray()))).isEqualTo(value);
    }
}
