package sharptally.cli.demo;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * What went wrong in the move: rows as the new side has them. The counts are fixed, told in {@code docs/demo.md}, and
 * checked by a test.
 *
 * <pre>
 * table        changed  missing  extra
 * station            3        2      1   a letter lost, NULL become empty, an outpost cut off from its leader
 * instrument         2        0      1   a decimal rounded, a time off by one hour
 * calibration        2        4      0   a line break lost, a double cut
 * reading           12       30      3   levels and remarks; a gap of a quarter of a day; test rows left over
 * high_water         1        1      0
 * watch_log          -        2      1   no key: whole rows are counted
 * </pre>
 */
final class Slips {
    private static final int CODE = 0;
    private static final int NAME = 1;

    private final TideTables tables;

    Slips(TideTables tables) {
        this.tables = tables;
    }

    /** The last two stations, one of them the leader of the other, never arrived; a trial one was left behind. */
    Stream<Object[]> station() {
        Stream<Object[]> moved = tables.station()
                .filter(row -> !Set.of("TG23", "TG24").contains(row[CODE]))
                .map(row -> switch ((String) row[CODE]) {
                    case "TG01" -> TideTables.with(row, NAME, "Alesholm");
                    case "TG05" -> TideTables.with(row, 6, "");
                    case "TG08" -> TideTables.with(row, 5, null);
                    default -> row;
                });
        Object[] trial = {"TX99", "trial mast", 0.0, 0.0, LocalDate.of(2026, 2, 1), "TG01", null};
        return Stream.concat(moved, Stream.<Object[]>of(trial));
    }

    /** Old stations as the old side has them, the last two tied so that a leader comes after its outpost. */
    Stream<Object[]> oldStation() {
        return tables.station()
                .map(row -> row[CODE].equals("TG23")
                        ? TideTables.with(row, 5, "TG24")
                        : row[CODE].equals("TG24") ? TideTables.with(row, 5, null) : row);
    }

    /** No instrument, level or log of the stations that never arrived exists on the old side. */
    static Object[] atArrivedStation(Object[] row, int column) {
        return Set.of("TG23", "TG24").contains(row[column]) ? TideTables.with(row, column, "TG01") : row;
    }

    Stream<Object[]> instrument() {
        Stream<Object[]> moved = tables.instrument().map(row -> switch (((Long) row[0]).intValue()) {
            case 7 -> TideTables.with(row, 5, ((BigDecimal) row[5]).add(new BigDecimal("0.001")));
            case 31 -> TideTables.with(row, 4, ((LocalDateTime) row[4]).plusHours(1));
            default -> row;
        });
        Object[] trial = {
            9_001L, "TX99", "radar", "SN-0000/Z", LocalDateTime.of(2026, 2, 1, 12, 0), new BigDecimal("1.000")
        };
        return Stream.concat(moved, Stream.<Object[]>of(trial));
    }

    Stream<Object[]> calibration() {
        return tables.calibration()
                .filter(row -> !(row[0].equals(12L) && ((LocalDate) row[1]).getYear() >= 2020))
                .map(row -> {
                    int year = ((LocalDate) row[1]).getYear();
                    if (row[0].equals(3L) && year == 2014) {
                        return TideTables.with(row, 4, "zero point checked left as found");
                    }
                    return row[0].equals(40L) && year == 2018
                            ? TideTables.with(row, 3, (double) (float) (double) row[3])
                            : row;
                });
    }

    Stream<Object[]> reading() {
        long gap = tables.readings * 3L / 5;
        long odd = tables.readings / 20;
        Stream<Object[]> moved = tables.reading()
                .filter(row -> (long) row[0] <= gap || (long) row[0] > gap + 30)
                .map(row -> {
                    long id = (long) row[0];
                    if (id % odd != 7 || id / odd > 11) {
                        return row;
                    }
                    return switch ((int) (id / odd) % 4) {
                        case 0 -> TideTables.with(row, 3, ((BigDecimal) row[3]).negate());
                        case 1 -> TideTables.with(row, 6, " ");
                        case 2 -> TideTables.with(row, 2, ((LocalDateTime) row[2]).plusHours(1));
                        default -> TideTables.with(TideTables.with(row, 5, (long) row[5] + 1), 4, 0.0);
                    };
                });
        Stream<Object[]> trials = Stream.of(1L, 2L, 3L).map(n -> new Object[] {
            tables.readings + n, "TX99", LocalDateTime.of(2026, 2, 1, 12, 0), new BigDecimal("9.999"), 0.0, 9L, "trial"
        });
        return Stream.concat(moved, trials);
    }

    Stream<Object[]> highWater() {
        return tables.highWater()
                .filter(row -> !row[0].equals(700L))
                .map(row ->
                        row[0].equals(42L) ? TideTables.with(row, 3, ((BigDecimal) row[3]).add(BigDecimal.ONE)) : row);
    }

    Stream<Object[]> watchLog() {
        List<Object[]> old = tables.watchLog().toList();
        Object[] added = {LocalDate.of(2026, 2, 1), "TX99", "trial"};
        return Stream.concat(old.stream().skip(2), Stream.<Object[]>of(added));
    }
}
