package sharptally.engines.sqlite;

import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Locale;
import java.util.Optional;
import org.sqlite.Function;
import sharptally.core.types.Kind;
import sharptally.core.types.TimeText;

/**
 * The one text of a time, of however many that stand in a column: with no zeros behind its fraction, no {@code T}, in UTC.
 * What is no text, or says no time, stays as it is.
 */
final class TimeForm extends Function {
    private static final int TEXT = 3;

    private final Kind kind;

    private TimeForm(Kind kind) {
        this.kind = kind;
    }

    static Optional<TimeForm> of(Kind kind) {
        return switch (kind) {
            case DATE, TIME, TIMESTAMP, INSTANT -> Optional.of(new TimeForm(kind));
            default -> Optional.empty();
        };
    }

    String name() {
        return "tally_form_of_" + kind.name().toLowerCase(Locale.ROOT);
    }

    /** As {@link SqliteLiterals} writes a value of the kind. */
    Optional<String> of(String text) {
        return switch (kind) {
            case DATE ->
                TimeText.readTimestamp(text)
                        .filter(TimeForm::isMidnight)
                        .map(t -> t.toLocalDate().toString());
            case TIME -> TimeText.readTime(text).map(TimeText::time);
            case TIMESTAMP -> TimeText.readTimestamp(text).map(TimeText::timestamp);
            default ->
                TimeText.readInstant(text)
                        .map(t -> TimeText.timestamp(LocalDateTime.ofInstant(t, ZoneOffset.UTC)) + "Z");
        };
    }

    private static boolean isMidnight(LocalDateTime time) {
        return time.toLocalTime().toNanoOfDay() == 0;
    }

    @Override
    protected void xFunc() throws SQLException {
        switch (value_type(0)) {
            case 1 -> result(value_long(0));
            case 2 -> result(value_double(0));
            case TEXT -> {
                String text = value_text(0);
                result(of(text).orElse(text));
            }
            case 4 -> result(value_blob(0));
            default -> result();
        }
    }
}
