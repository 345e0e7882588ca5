package sharptally.core.finding;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.LocalDateTime;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

class LikelyCauseTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            ignoreLeadingAndTrailingWhitespace = false,
            value = {
                "pier |pier|trailing spaces",
                " pier|pier|spaces around",
                "a  b|a b|spaces within",
                "Pier|PIER|letter case",
                "Zürich|ZuÌ\u0088rich|",
                "e\u0301|\u00e9|form of accents",
                "Düne|DÃ¼ne|encoding",
                "DÃ¼ne|Düne|encoding",
                "Düne|D?ne|letters lost in encoding",
                "a long remark|a long|cut at 6 characters",
                "calm|rough|"
            })
    void ofTexts(String source, String target, String cause) {
        assertThat(LikelyCause.of(Kind.TEXT, new Value.Text(source), new Value.Text(target)))
                .isEqualTo(java.util.Optional.ofNullable(cause));
    }

    @ParameterizedTest
    @CsvSource({
        "1.5, 1500, times 1000",
        "1500, 1.5, divided by 1000",
        "2, -2, sign turned",
        "2.345, 2.35, rounded to 2 decimals",
        "2.349, 2.34, cut to 2 decimals",
        "7, 0, a value to zero",
        "1234567.125, 1234567.25, the same to 6 digits",
        "7, 9, off by +2",
        "7.00000012345678, 9.00000123456789, off by +2"
    })
    void ofNumbers(BigDecimal source, BigDecimal target, String cause) {
        assertThat(LikelyCause.of(Kind.DECIMAL, new Value.Decimal(source), new Value.Text(target.toPlainString())))
                .contains(cause);
    }

    @ParameterizedTest
    @CsvSource({
        "2026-03-29T02:30:00, 2026-03-29T03:30:00, off by +1 hour",
        "2026-03-29T02:30:00, 2026-03-28T20:45:00, off by -5:45 hours",
        "2026-03-29T02:30:00, 2026-03-29T00:00:00, time of day lost",
        "2026-03-29T02:30:00.250, 2026-03-29T02:30:00, fraction of a second",
        "2026-03-29T02:30:00, 2026-03-29T02:30:00, zone not applied",
        "2026-03-29T02:30:00, 2026-04-01T02:30:00, off by +3 days"
    })
    void ofTimes(LocalDateTime source, LocalDateTime target, String cause) {
        assertThat(LikelyCause.of(Kind.TIMESTAMP, new Value.Timestamp(source), new Value.Timestamp(target)))
                .contains(cause);
    }

    @Test
    void ofNull() {
        assertThat(LikelyCause.of(Kind.TEXT, Value.NULL, new Value.Text(""))).contains("NULL to empty");
        assertThat(LikelyCause.of(Kind.TEXT, new Value.Text("x"), Value.NULL)).contains("a value to NULL");
    }
}
