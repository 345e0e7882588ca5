package sharptally.core.types;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Times and JSON as text. */
class TextFormsTest {
    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);

    @Test
    void everyTimestampReadsBackAsWritten() {
        for (int i = 0; i < 20_000; i++) {
            LocalDateTime time = LocalDateTime.ofEpochSecond(
                    (long) (random.nextGaussian() * 1e11),
                    random.nextInt(4) == 0 ? 0 : random.nextInt(1_000_000_000),
                    ZoneOffset.UTC);
            assertThat(TimeText.readTimestamp(TimeText.timestamp(time)))
                    .as("seed %d", seed)
                    .contains(time);
        }
    }

    @Test
    void everyTimeReadsBackAsWrittenPastADayAndBelowZeroToo() {
        for (int i = 0; i < 20_000; i++) {
            long nanos = (long) (random.nextGaussian() * 1e15);
            assertThat(TimeText.readTime(TimeText.time(nanos)))
                    .as("seed %d", seed)
                    .contains(nanos);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "2026-03-29 01:30:00Z, 2026-03-29T01:30:00Z",
        "2026-03-29 01:30:00+00, 2026-03-29T01:30:00Z",
        "2026-03-29T03:30:00.5+02:00, 2026-03-29T01:30:00.5Z",
        "2026-03-28 20:00:00-0530, 2026-03-29T01:30:00Z",
        "2026-03-29 01:30:00, 2026-03-29T01:30:00Z"
    })
    void instantsAreReadWhateverTheirZoneIsWrittenLike(String text, Instant instant) {
        assertThat(TimeText.readInstant(text)).contains(instant);
    }

    @ParameterizedTest
    @CsvSource({"2023-02-29", "2023-13-01", "2023-1-1", "yesterday", "0000-00-00", "2023-01-01 24:00:00", "20230101"})
    void whatIsNoTimeIsNotGuessedAt(String text) {
        assertThat(TimeText.readTimestamp(text)).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{\"b\": [1, 2.0], \"a\": null} | {\"a\":null,\"b\":[1,2]}",
                "[1e2, 100, 1.00E+2, -0.0]     | [100,100,100,0]",
                "\"\\u00e9\\/\"                | \"é/\"",
                "{\"a\":1, \"a\":2}            | {\"a\":1,\"a\":2}",
                "\"\\\"\\\\\\n\"               | \"\\\"\\\\\\u000a\"",
                " true                         | true",
                "12345678901234567890.10       | 12345678901234567890.1"
            })
    void jsonOfOneMeaningHasOneForm(String text, String form) {
        assertThat(JsonText.canonical(text)).contains(form);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {"{", "[1,]", "01", "'a'", "{\"a\" 1}", "nul", "1 2", "\"\\x\"", "+1", ".5", "[", "\"a"})
    void whatIsNotJsonIsLeftAlone(String text) {
        assertThat(JsonText.canonical(text)).isEmpty();
    }

    @Test
    void deepNestingIsRefusedInsteadOfOverflowing() {
        assertThat(JsonText.canonical("[".repeat(100_000) + "]".repeat(100_000)))
                .isEmpty();
        assertThat(JsonText.canonical("[".repeat(900) + "]".repeat(900))).isPresent();
    }

    @Test
    void orderOfMembersAndBlanksNeverMatters() {
        for (int i = 0; i < 2_000; i++) {
            Random one = new Random(seed + i);
            Random other = new Random(seed + i);
            String plain = json(one, 3, new Random(1));
            String shuffled = json(other, 3, new Random(seed * 31 + i));
            assertThat(JsonText.canonical(plain))
                    .as("seed %d: %s", seed + i, plain)
                    .isPresent();
            assertThat(JsonText.canonical(shuffled)).as("seed %d", seed + i).isEqualTo(JsonText.canonical(plain));
            String form = JsonText.canonical(plain).orElseThrow();
            assertThat(JsonText.canonical(form)).as("its own form").contains(form);
        }
    }

    /** A document that the first source decides, laid out as the second one does. */
    private static String json(Random content, int depth, Random layout) {
        String blank = " ".repeat(layout.nextInt(3));
        switch (depth == 0 ? content.nextInt(4) : content.nextInt(6)) {
            case 0:
                return blank + content.nextInt(100) + (layout.nextBoolean() ? ".0" : "");
            case 1:
                return blank + "\"t" + content.nextInt(100) + "\"";
            case 2:
                return content.nextBoolean() + blank;
            case 3:
                return "null";
            case 4:
                List<String> items = new ArrayList<>();
                for (int n = content.nextInt(4); n > 0; n--) {
                    items.add(json(content, depth - 1, layout));
                }
                return blank + "[" + String.join(blank + ",", items) + "]";
            default:
                List<String> members = new ArrayList<>();
                for (int n = content.nextInt(4); n > 0; n--) {
                    members.add("\"k" + n + "\"" + blank + ":" + json(content, depth - 1, layout));
                }
                Collections.shuffle(members, layout);
                return "{" + String.join(",", members) + blank + "}";
        }
    }
}
