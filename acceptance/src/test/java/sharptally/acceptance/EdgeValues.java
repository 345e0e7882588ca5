package sharptally.acceptance;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/**
 * Values of each type at which functions of databases are known, or likely, to go wrong: signs, zeros, specials, neighbours,
 * powers of two and of ten, numbers whose halves fold to one, times around such folds; as SQL of the engine.
 *
 * @param type as it is declared; the table's name is made of it
 * @param literals all of them different, some of them equal in value; NULL is added by whoever uses them
 */
record EdgeValues(String type, List<String> literals) {
    /** Microseconds from 2000 on that are about what people keep. */
    private static final long USUAL_MICROS = 850_000_000_000_000L;

    private static EdgeValues quoted(String type, List<String> values) {
        return new EdgeValues(
                type, values.stream().map(v -> "'" + v.replace("'", "''") + "'").toList());
    }

    private static EdgeValues quoted(String type, String... values) {
        return quoted(type, List.of(values));
    }

    /** Whole numbers of so many bits; of 64, some that are one when their halves are folded together. */
    private static List<String> whole(Random random, int bits) {
        List<String> values = new ArrayList<>();
        long most = Long.MAX_VALUE >> 64 - bits;
        for (long edge : new long[] {0, 1, 2, 7, 255, 256, 9_999, 10_000, 32_767, 32_768, 65_536}) {
            if (edge <= most) {
                values.add(Long.toString(edge));
                values.add(Long.toString(-edge));
            }
        }
        for (int shift = 8; shift < bits - 1; shift += 5) {
            for (long near = -1; near <= 1; near++) {
                values.add(Long.toString((1L << shift) + near));
                values.add(Long.toString(-(1L << shift) + near));
            }
        }
        values.addAll(
                List.of(Long.toString(most), Long.toString(most - 1), Long.toString(-most), Long.toString(-most - 1)));
        for (int i = 0; i < 20; i++) {
            values.add(Long.toString(random.nextLong() >> 64 - bits));
        }
        if (bits == 64) {
            for (int i = 0; i < 10; i++) {
                long one = random.nextLong() >>> 1 + random.nextInt(28);
                long high = random.nextInt(1 << 4) + 1L;
                values.add(Long.toString(one));
                values.add(Long.toString(sameFold(one, (one >> 32) + high)));
                values.add(Long.toString(~one));
                values.add(Long.toString(-one));
            }
        }
        return values.stream().distinct().toList();
    }

    /** The number of these upper bits whose halves, folded together, are those of another one; both not below zero. */
    private static long sameFold(long number, long high) {
        long fold = (number >> 32 ^ number) & 0xFFFF_FFFFL;
        return high << 32 | (fold ^ high) & 0xFFFF_FFFFL;
    }

    private static List<String> decimals(Random random, int digits, int places) {
        List<String> values =
                new ArrayList<>(List.of("0", "0.0", "1", "-1", "1.0", "10", "100", "1000", "10000", "-10000"));
        values.addAll(
                List.of("100000000", "-100000000", "0.1", "-0.1", "0.01", "0.001", "9999", "99999", "-9999", "5000"));
        for (int i = 0; i < 40; i++) {
            int length = 1 + random.nextInt(digits - places - 1);
            StringBuilder number = new StringBuilder(random.nextBoolean() ? "-" : "").append(1 + random.nextInt(9));
            random.ints(length, 0, 10).forEach(number::append);
            if (places > 0 && random.nextBoolean()) {
                number.append('.');
                random.ints(1 + random.nextInt(places), 0, 10).forEach(number::append);
            }
            values.add(number.toString());
            values.add(number.charAt(0) == '-' ? number.substring(1) : "-" + number);
        }
        return values.stream().distinct().toList();
    }

    private static List<String> floating(Random random, boolean single) {
        List<String> values =
                new ArrayList<>(List.of("0", "-0", "1", "-1", "0.1", "-0.1", "0.5", "2", "1e10", "-1e10"));
        values.addAll(
                List.of("9007199254740992", "9007199254740994", "1e15", "1e16", "123456789012345680", "0.3", "1e-5"));
        for (int i = 0; i < 90; i++) {
            double value = single
                    ? Float.intBitsToFloat(random.nextInt())
                    : i % 3 == 0 ? Double.longBitsToDouble(random.nextLong()) : (random.nextDouble() - 0.5) * 1e6;
            // Subnormal ones are refused by some servers as numbers out of range.
            double least = single ? Float.MIN_NORMAL : Double.MIN_NORMAL;
            if (Double.isFinite(value) && Math.abs(value) >= least * 4) {
                values.add(single ? Float.toString((float) value) : Double.toString(value));
                values.add(single ? Float.toString(Math.nextUp((float) value)) : Double.toString(Math.nextUp(value)));
                values.add(single ? Float.toString(-(float) value) : Double.toString(-value));
            }
        }
        for (int power = single ? 100 : 900; power > (single ? -100 : -900); power -= single ? 9 : 61) {
            values.add(single ? Float.toString((float) Math.pow(2, power)) : Double.toString(Math.pow(2, power)));
        }
        return values.stream().distinct().toList();
    }

    private static List<String> texts() {
        return List.of(
                "",
                " ",
                "  ",
                "a",
                "A",
                "a ",
                " a",
                "ab",
                "ab|c",
                "a|bc",
                "~",
                "'",
                "\"",
                "\\",
                "\\\\",
                "\n",
                "\r\n",
                "\t",
                "é",
                "e\u0301",
                "ß",
                "ss",
                "Ω",
                "ä",
                "Ã¤",
                "€",
                "¤",
                "名",
                "\uFF5E",
                "🌊",
                "😀",
                "NULL",
                "0",
                "00",
                "1:a",
                "3:abc",
                "x".repeat(11),
                "x".repeat(12),
                "x".repeat(13),
                "x".repeat(5_000),
                "x".repeat(4_999) + "y",
                "\u0001",
                "\u007f",
                "i",
                "I",
                "İ",
                "ı");
    }

    private static List<String> bytes(Random random, String open, String close) {
        List<String> values = new ArrayList<>();
        for (String hex : List.of("", "00", "0000", "01", "ff", "7e", "2020", "20", "c3a4", "e4", "0000000000000000")) {
            values.add(open + hex + close);
        }
        for (int i = 0; i < 12; i++) {
            byte[] some = new byte[11 + i % 3];
            random.nextBytes(some);
            values.add(open + java.util.HexFormat.of().formatHex(some) + close);
        }
        return values.stream().distinct().toList();
    }

    /** PostgreSQL times as microseconds from 2000 on: usual ones, and others of the same folded halves. */
    private static List<String> foldedTimes(Random random, String type) {
        List<String> values = new ArrayList<>(List.of("'2000-01-01'", "'1970-01-01'", "'infinity'", "'-infinity'"));
        for (String edge :
                List.of("1999-12-31 23:59:59.999999", "2000-01-01 00:00:00.000001", "0001-01-01", "9999-12-31")) {
            values.add("'" + edge + "'");
        }
        values.addAll(
                List.of("'4713-01-01 BC'", "'0044-03-15 BC'", "'0001-12-31 BC'", "'294276-12-31 23:59:59.999999'"));
        values.addAll(List.of("'294276-12-31 23:59:59.999998'", "'2026-03-29 02:30:00'", "'2026-10-25 02:30:00'"));
        for (int i = 0; i < 25; i++) {
            long micros = (long) (random.nextDouble() * USUAL_MICROS);
            micros -= i % 2 == 0 ? micros % 1_000_000 : i % 3 == 0 ? micros % 1_000 : 0;
            long high = (micros >> 32) + 1 + random.nextInt(20);
            for (long each : new long[] {micros, micros + 1, micros + 1_000_000, sameFold(micros, high), -micros}) {
                values.add("timestamp '2000-01-01' + interval '" + each / 1_000_000 + " s' + interval '"
                        + each % 1_000_000 + " microseconds'");
            }
        }
        return values.stream()
                .distinct()
                .map(v -> v.startsWith("'") ? v : "(" + v + ")::" + type)
                .toList();
    }

    /** The types of PostgreSQL. */
    static List<EdgeValues> ofPostgres(Random random) {
        List<EdgeValues> all = new ArrayList<>(List.of(
                quoted("smallint", whole(random, 16)),
                quoted("integer", whole(random, 32)),
                quoted("bigint", whole(random, 64)),
                quoted("numeric(30,6)", with(decimals(random, 30, 6), "NaN")),
                quoted("numeric(12,0)", decimals(random, 12, 0)),
                quoted("real", with(floating(random, true), "NaN", "Infinity", "-Infinity")),
                quoted(
                        "double precision",
                        with(floating(random, false), "NaN", "Infinity", "-Infinity", "5e-324", "1e-323")),
                quoted("boolean", "true", "false"),
                quoted("text", texts()),
                quoted("varchar(5000)", texts()),
                quoted("char(7)", "", "a", "A", "ab", "é", "ß", "~", "a b", " a", "abcdefg"),
                new EdgeValues("bytea", bytes(random, "'\\x", "'")),
                quoted(
                        "date",
                        "2000-01-01",
                        "1999-12-31",
                        "0001-01-01",
                        "0001-12-31 BC",
                        "4713-01-01 BC",
                        "9999-12-31",
                        "10000-01-01",
                        "5874897-12-31",
                        "infinity",
                        "-infinity",
                        "2024-02-29"),
                quoted(
                        "time",
                        "00:00",
                        "24:00",
                        "23:59:59.999999",
                        "00:00:00.000001",
                        "12:00",
                        "01:11:34.967295",
                        "01:11:34.967296",
                        "02:23:09.934592",
                        "01:11:34.967297"),
                new EdgeValues("timestamp", foldedTimes(random, "timestamp")),
                new EdgeValues("timestamptz", foldedTimes(random, "timestamptz")),
                quoted(
                        "timestamp(3)",
                        "2026-01-01 00:00:00.123",
                        "2026-01-01 00:00:00.124",
                        // Of one date, with one folded half.
                        "2014-08-19 01:17:47.12",
                        "2014-08-19 20:23:06.598",
                        "1999-01-01",
                        "0044-03-15 BC"),
                quoted(
                        "uuid",
                        "00000000-0000-0000-0000-000000000000",
                        "ffffffff-ffff-ffff-ffff-ffffffffffff",
                        "00000000-0000-0000-0000-000000000001",
                        "10000000-0000-0000-0000-000000000000"),
                quoted(
                        "json",
                        "{}",
                        "[]",
                        "{\"a\":1,\"a\":2}",
                        "{\"a\":2}",
                        "{\"a\": 2}",
                        "{\"a\":2,\"a\":1}",
                        "null",
                        "0",
                        "1",
                        "1.0",
                        "\"1\"",
                        "{\"b\":1,\"a\":2}",
                        "{\"a\":2,\"b\":1}"),
                quoted("jsonb", "{}", "[]", "{\"a\":1}", "null", "0", "1", "1.0", "\"1\"", "[1,2]", "[2,1]"),
                quoted("bit(5)", "00000", "00001", "10000", "11111"),
                quoted("varbit", "0", "00", "1", "01", "001", ""),
                quoted(
                        "interval",
                        "1 mon",
                        "30 days",
                        "1 day",
                        "24:00",
                        "-1 day",
                        "1 year",
                        "12 mons",
                        "0",
                        "-00:00:01"),
                quoted("money", "0", "1", "-1", "0.01", "92233720368547758.07"),
                quoted("timetz", "12:00+00", "13:00+01", "12:00+01", "24:00+00"),
                quoted("inet", "10.0.0.1", "10.0.0.1/32", "10.0.0.0/8", "::1", "10.0.0.1/8"),
                quoted("int[]", "{}", "{1,2}", "{2,1}", "{{1},{2}}", "{NULL}", "{0}", "[0:1]={1,2}"),
                quoted("text[]", "{}", "{a,b}", "{\"a,b\"}", "{NULL}", "{\"NULL\"}", "{\"\"}"),
                quoted("\"char\"", "a", "A", "", " "),
                quoted("oid", "0", "1", "4294967295", "2147483648"),
                quoted("point", "(0,0)", "(0,1)", "(1,0)", "(-0,0)", "(0.1,0.30000000000000004)")));
        List<String> any = decimals(random, 60, 20);
        all.add(quoted("numeric", with(any, "NaN", "1e900", "-1e900", "1e-900", "123456789.000000000000000001")));
        all.add(new EdgeValues("regoper", List.of("(551::oid)::regoper", "(550::oid)::regoper", "'pg_catalog.||/'")));
        all.add(new EdgeValues(
                "regproc",
                List.of(
                        "'pg_typeof'",
                        "(3155::oid)::regproc",
                        "(1598::oid)::regproc",
                        "(870::oid)::regproc",
                        "(1369::oid)::regproc",
                        "(936::oid)::regproc",
                        "(937::oid)::regproc",
                        "0::oid::regproc")));
        return all;
    }

    private static List<String> with(List<String> values, String... more) {
        List<String> all = new ArrayList<>(values);
        all.addAll(List.of(more));
        return all;
    }

    /** The types of MariaDB. */
    static List<EdgeValues> ofOldestMySql(Random random) {
        return ofMaria(random).stream()
                .filter(edge -> !List.of("uuid", "json", "inet6").contains(edge.type()))
                .toList();
    }

    static List<EdgeValues> ofMaria(Random random) {
        String utf8 = " character set utf8mb4 collate utf8mb4_general_ci";
        return List.of(
                quoted("tinyint", whole(random, 8)),
                quoted("smallint", whole(random, 16)),
                quoted("mediumint", whole(random, 24)),
                quoted("int", whole(random, 32)),
                quoted("bigint", whole(random, 64)),
                quoted(
                        "bigint unsigned",
                        "0",
                        "1",
                        "9223372036854775807",
                        "9223372036854775808",
                        "18446744073709551615"),
                quoted("decimal(30,6)", decimals(random, 30, 6)),
                quoted("decimal(12,0)", decimals(random, 12, 0)),
                new EdgeValues("float", floating(random, true)),
                new EdgeValues("double", floating(random, false)),
                quoted("varchar(5000)" + utf8, escaped(texts())),
                quoted("longtext" + utf8, escaped(texts())),
                quoted("varchar(99) character set latin1", "", "a", "A", "a ", "é", "ä", "~", "ab|c"),
                quoted("varchar(99) character set utf16", "", "a", "A", "é", "Ã¤", "ä", "🌊", "~"),
                quoted("char(7)" + utf8, "", "a", "A", "ab", "é", "ß", "~", "a b", " a", "abcdefg"),
                new EdgeValues("varbinary(99)", bytes(random, "x'", "'")),
                new EdgeValues("longblob", bytes(random, "x'", "'")),
                quoted("binary(4)", "", "a", "ab"),
                quoted(
                        "date",
                        "2024-02-29",
                        "2024-02-31",
                        "2024-02-30",
                        "0000-00-00",
                        "2024-00-10",
                        "2024-00-11",
                        "9999-12-31"),
                quoted(
                        "datetime",
                        "2024-02-31 10:00",
                        "2024-02-31 11:00",
                        "2024-02-28 10:00",
                        "0000-00-00",
                        "0000-00-00 01:00",
                        "2024-00-10 01:00",
                        "2024-00-10 02:00",
                        "2023-02-29 01:00",
                        "2023-02-30 01:00",
                        "1000-01-01"),
                quoted(
                        "datetime(6)",
                        "2024-02-31 10:00:00.000001",
                        "2024-02-31 10:00:00.000002",
                        "2024-02-31 10:00",
                        "9999-12-31 23:59:59.999999",
                        "2026-03-29 02:30:00",
                        "2024-02-31 11:00",
                        "2024-02-30 10:00"),
                quoted(
                        "timestamp(6)",
                        "1970-01-01 00:00:01",
                        "2026-10-25 01:30:00.000001",
                        "2026-10-25 01:30",
                        "2038-01-19 03:14:07.999999"),
                quoted(
                        "time(6)",
                        "00:00:00",
                        "-00:00:00.000001",
                        "838:59:59.999999",
                        "-838:59:59",
                        "24:00:00",
                        "00:00:00.1"),
                quoted("time", "00:00:00", "-00:00:01", "838:59:59", "-838:59:59", "24:00:00"),
                quoted("year", "1901", "2155", "0000", "2026"),
                new EdgeValues("bit(5)", List.of("b'0'", "b'1'", "b'10000'", "b'11111'")),
                new EdgeValues(
                        "bit(64)", List.of("b'0'", "b'1'", "b'" + "1".repeat(64) + "'", "b'1" + "0".repeat(63) + "'")),
                quoted(
                        "uuid",
                        "00000000-0000-0000-0000-000000000000",
                        "ffffffff-ffff-ffff-ffff-ffffffffffff",
                        "10000000-0000-0000-0000-000000000000"),
                quoted("json", "{}", "[]", "{\"a\":1,\"a\":2}", "{\"a\":2}", "{\"a\": 2}", "null", "0", "1", "1.0"),
                quoted("inet6", "::", "::1", "::ffff:10.0.0.1"),
                quoted("enum('a','B','b ','','c')", "a", "B", "", "c"),
                quoted("set('a','b','c')", "", "a", "a,b", "c"));
    }

    private static List<String> escaped(List<String> texts) {
        return texts.stream().map(t -> t.replace("\\", "\\\\")).toList();
    }
}
