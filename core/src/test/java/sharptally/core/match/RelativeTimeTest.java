package sharptally.core.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.core.match.text.RelativeTime;

class RelativeTimeTest {
    /** A Sunday, shortly after midnight in UTC, when it is another day elsewhere: the zone has no part in it. */
    private static final Clock CLOCK =
            Clock.fixed(Instant.parse("2026-03-01T00:30:15.250Z"), ZoneId.of("America/St_Johns"));

    @ParameterizedTest
    @CsvSource({
        "90m, 2026-02-28 23:00:15",
        "12h, 2026-02-28 12:30:15",
        "1d, 2026-02-28",
        "7d, 2026-02-22",
        "2w, 2026-02-15",
        "1mo, 2026-02-01",
        "1y, 2025-03-01",
        "today, 2026-03-01",
        "yesterday, 2026-02-28",
        "this-week, 2026-02-23",
        "last-week, 2026-02-16",
        "this-month, 2026-03-01",
        "last-month, 2026-02-01",
        "this-year, 2026-01-01",
        "last-year, 2025-01-01"
    })
    void wordsAreCountedFromNow(String words, String time) {
        assertThat(RelativeTime.parse(words, CLOCK)).contains(time);
        assertThat(RelativeTime.filled("t >= '${time:" + words + "}' AND x = '$${time:1d}'", CLOCK))
                .isEqualTo("t >= '" + time + "' AND x = '$${time:1d}'");
    }

    @Test
    void otherWordsAreNoTime() {
        for (String words : new String[] {"", "7", "d", "0d", "7 d", "-1d", "next-week", "2026-03-01", "1q"}) {
            assertThat(RelativeTime.parse(words, CLOCK)).as(words).isEmpty();
        }
        assertThatThrownBy(() -> RelativeTime.filled("${time:soon}", CLOCK))
                .hasMessage("not a time: ${time:soon}; write such as ${time:7d}, ${time:12h}, ${time:today} or"
                        + " ${time:last-month}");
    }
}
