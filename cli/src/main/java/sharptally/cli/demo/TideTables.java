package sharptally.cli.demo;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import java.util.stream.Stream;

/**
 * The rows of a coastal tide-gauge archive, made up from a fixed seed: the same at every call. Places and people are
 * invented. Rows are arrays in column order; a Java null is SQL NULL.
 */
final class TideTables {
    private static final long SEED = 20_260_301;
    private static final LocalDateTime FIRST_READING = LocalDateTime.of(2019, 1, 1, 0, 0);
    private static final String[] NAMES = {
        "Ålesholm", "Brattnes", "Cap Émeraude", "Dunwater", "Eystrasund", "Fjærvik", "Gråskär", "Hohe Düne",
        "Ísafell", "Jökulnes", "Kap Möwe", "Łeba Dolna", "Мыс Туманный", "Nørrehavn", "Ö-Klippan", "Porto Névoa",
        "Quai d'Ambre", "Rauðvík", "Sankt Ærø", "Точка Маяк", "Uddevær", "Ακτή Γλάρου", "灯台岬", "Ystadholm"
    };
    private static final String[] KINDS = {"float", "radar", "pressure", "acoustic"};

    final int stations = NAMES.length;
    final int instruments = 60;
    final int readings;

    /**
     * @param readings rows of the largest table
     */
    TideTables(int readings) {
        this.readings = readings;
    }

    private static SplittableRandom random(String table, long row) {
        return new SplittableRandom(SEED ^ table.hashCode() * 31L ^ row * 0x9E3779B97F4A7C15L);
    }

    static String stationCode(int n) {
        return (n < 9 ? "TG0" : "TG") + (n + 1);
    }

    /** code, name, latitude, longitude, opened, main_code, remark. */
    Stream<Object[]> station() {
        return IntStream.range(0, stations).mapToObj(n -> {
            var random = random("station", n);
            return new Object[] {
                stationCode(n),
                NAMES[n],
                Math.round((50 + random.nextDouble() * 20) * 1e6) / 1e6,
                random.nextDouble() * 30,
                LocalDate.of(1950, 1, 1).plusDays(random.nextInt(20_000)),
                // TG01 leads TG02 to TG06, TG07 leads the next ones, and so on; TG03 is led by a later one.
                n % 6 == 0 ? null : n == 2 ? stationCode(4) : stationCode(n / 6 * 6),
                n % 4 == 0 ? null : n % 4 == 1 ? "" : "mast " + n + " m"
            };
        });
    }

    /** id, station_code, kind, serial_no, installed_at, accuracy_mm. */
    Stream<Object[]> instrument() {
        return IntStream.rangeClosed(1, instruments).mapToObj(id -> {
            var random = random("instrument", id);
            return new Object[] {
                (long) id,
                stationCode(id % stations),
                KINDS[id % KINDS.length],
                String.format(Locale.ROOT, "SN-%04d/%s", random.nextInt(10_000), (char) ('A' + id % 26)),
                LocalDateTime.of(2001, 5, 1, 6, 30).plusMinutes(random.nextInt(9_000_000)),
                BigDecimal.valueOf(random.nextInt(1, 9_999), 3)
            };
        });
    }

    /** instrument_id, calibrated_on, offset_mm, drift, note. */
    Stream<Object[]> calibration() {
        return IntStream.rangeClosed(1, instruments)
                .boxed()
                .flatMap(id -> IntStream.range(0, 10).mapToObj(year -> {
                    var random = random("calibration", id * 100L + year);
                    return new Object[] {
                        (long) id,
                        LocalDate.of(2014 + year, 1 + id % 12, 1 + id % 28),
                        BigDecimal.valueOf(random.nextInt(-20_000, 20_000), 3),
                        random.nextDouble() * 1e-3,
                        year % 3 == 0 ? "zero point checked\nleft as found" : null
                    };
                }));
    }

    /** id, station_code, taken_at, level_m, pressure_hpa, quality, remark. */
    Stream<Object[]> reading() {
        return LongStream.rangeClosed(1, readings).mapToObj(this::reading);
    }

    private Object[] reading(long id) {
        var random = random("reading", id);
        double tide = Math.sin(id / 75.0) * 2.1 + random.nextDouble() * 0.2;
        return new Object[] {
            id,
            stationCode((int) (id % stations)),
            FIRST_READING.plusMinutes(id * 10),
            BigDecimal.valueOf(Math.round(tide * 1000), 3),
            980 + random.nextDouble() * 60,
            (long) random.nextInt(4),
            id % 50 == 0 ? "gap filled" : id % 70 == 0 ? "" : null
        };
    }

    /** id, station_code, tide_day, high_m, low_m; a further column, range_m, is computed by the databases. */
    Stream<Object[]> highWater() {
        return LongStream.rangeClosed(1, 1_500).mapToObj(id -> {
            var random = random("high_water", id);
            return new Object[] {
                id,
                stationCode((int) (id % stations)),
                LocalDate.of(2024, 1, 1).plusDays(id / stations),
                BigDecimal.valueOf(1_500 + random.nextInt(1_200), 3),
                BigDecimal.valueOf(-1_500 - random.nextInt(1_200), 3)
            };
        });
    }

    /** written_on, station_code, words: no key, and some rows stand more than once. */
    Stream<Object[]> watchLog() {
        List<String> words = List.of("calm", "swell from NW", "fog; lamp lit", "ice in the well", "霧", "gauge cleaned");
        return IntStream.range(0, 400).mapToObj(n -> {
            var random = random("watch_log", n / 2);
            return new Object[] {
                LocalDate.of(2023, 1, 1).plusDays(random.nextInt(60)),
                stationCode(random.nextInt(4)),
                words.get(random.nextInt(words.size()))
            };
        });
    }

    static Object[] with(Object[] row, int column, Object value) {
        Object[] changed = Arrays.copyOf(row, row.length);
        changed[column] = value;
        return changed;
    }
}
