package sharptally.engines.any;

import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Calendar;
import java.util.Date;
import java.util.GregorianCalendar;
import java.util.Locale;
import java.util.TimeZone;

/**
 * Times without a zone by way of the one class that older drivers know for them, which is a point in time. It is read and
 * written by the calendar of UTC, so that no zone of this machine cuts an hour out, and no change of calendars some days.
 */
final class UtcTimestamps {
    private static final int MILLIS = 1_000;

    private UtcTimestamps() {}

    /** A new one each time, as drivers change it. */
    static Calendar calendar() {
        GregorianCalendar calendar = new GregorianCalendar(TimeZone.getTimeZone(ZoneOffset.UTC), Locale.ROOT);
        calendar.setGregorianChange(new Date(Long.MIN_VALUE));
        return calendar;
    }

    static LocalDateTime read(Timestamp time) {
        return LocalDateTime.ofEpochSecond(Math.floorDiv(time.getTime(), MILLIS), time.getNanos(), ZoneOffset.UTC);
    }

    static Timestamp written(LocalDateTime time) {
        return Timestamp.from(time.toInstant(ZoneOffset.UTC));
    }
}
