package sharptally.engines.files.dump;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What the types of columns mean that stand in a dump. Their values are there as the database writes them. */
final class DeclaredType {
    private static final Pattern DIGITS = Pattern.compile("\\((\\d)\\)");
    private static final int POSTGRESQL_DIGITS = 6;

    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("boolean", Kind.BOOLEAN),
            Map.entry("bool", Kind.BOOLEAN),
            Map.entry("tinyint", Kind.INTEGER),
            Map.entry("smallint", Kind.INTEGER),
            Map.entry("mediumint", Kind.INTEGER),
            Map.entry("int", Kind.INTEGER),
            Map.entry("integer", Kind.INTEGER),
            Map.entry("bigint", Kind.INTEGER),
            Map.entry("smallserial", Kind.INTEGER),
            Map.entry("serial", Kind.INTEGER),
            Map.entry("bigserial", Kind.INTEGER),
            Map.entry("oid", Kind.INTEGER),
            Map.entry("year", Kind.INTEGER),
            Map.entry("numeric", Kind.DECIMAL),
            Map.entry("decimal", Kind.DECIMAL),
            Map.entry("double", Kind.DOUBLE),
            Map.entry("double precision", Kind.DOUBLE),
            Map.entry("bytea", Kind.BYTES),
            Map.entry("binary", Kind.BYTES),
            Map.entry("varbinary", Kind.BYTES),
            Map.entry("tinyblob", Kind.BYTES),
            Map.entry("blob", Kind.BYTES),
            Map.entry("mediumblob", Kind.BYTES),
            Map.entry("longblob", Kind.BYTES),
            Map.entry("date", Kind.DATE),
            Map.entry("time", Kind.TIME),
            Map.entry("time without time zone", Kind.TIME),
            Map.entry("timestamp without time zone", Kind.TIMESTAMP),
            Map.entry("datetime", Kind.TIMESTAMP),
            Map.entry("timestamp with time zone", Kind.INSTANT),
            Map.entry("timestamptz", Kind.INSTANT),
            Map.entry("uuid", Kind.UUID),
            Map.entry("json", Kind.JSON),
            Map.entry("jsonb", Kind.JSON),
            Map.entry("bit", Kind.BITS),
            Map.entry("bit varying", Kind.BITS));

    private DeclaredType() {}

    /** Types that only one database has are the writing of their values. */
    static CanonicalType of(String declared, Flavour flavour) {
        if (flavour == Flavour.SQLITE) {
            // Each value says what it is.
            return CanonicalType.of(Kind.ANY);
        }
        String bare = declared.toLowerCase(Locale.ROOT)
                .replaceAll("\\([^)]*\\)", " ")
                .replaceAll("\\b(unsigned|zerofill|signed)\\b", " ")
                .strip()
                .replaceAll("\\s+", " ");
        if (bare.equals("char") || bare.equals("character") || bare.equals("bpchar")) {
            return CanonicalType.written().writtenPadded();
        }
        return kind(bare, flavour)
                .map(kind -> CanonicalType.written().writtenAs(kind, digits(kind, declared, flavour)))
                .orElse(CanonicalType.written());
    }

    private static Optional<Kind> kind(String bare, Flavour flavour) {
        boolean maria = flavour == Flavour.MARIADB;
        return switch (bare) {
            case "timestamp" -> Optional.of(maria ? Kind.INSTANT : Kind.TIMESTAMP);
            case "real" -> Optional.of(maria ? Kind.DOUBLE : Kind.FLOAT);
            case "float" -> Optional.of(maria ? Kind.FLOAT : Kind.DOUBLE);
            default -> Optional.ofNullable(KINDS.get(bare));
        };
    }

    private static int digits(Kind kind, String declared, Flavour flavour) {
        return switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> {
                Matcher digits = DIGITS.matcher(declared);
                yield digits.find()
                        ? Integer.parseInt(digits.group(1))
                        : flavour == Flavour.MARIADB ? 0 : POSTGRESQL_DIGITS;
            }
            default -> CanonicalType.ANY_DIGITS;
        };
    }
}
