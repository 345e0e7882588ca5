package sharptally.engines.trino;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What Trino's types mean, by their text in the information schema. */
final class TrinoTypes {
    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("boolean", Kind.BOOLEAN),
            Map.entry("tinyint", Kind.INTEGER),
            Map.entry("smallint", Kind.INTEGER),
            Map.entry("integer", Kind.INTEGER),
            Map.entry("bigint", Kind.INTEGER),
            Map.entry("decimal", Kind.DECIMAL),
            Map.entry("real", Kind.FLOAT),
            Map.entry("double", Kind.DOUBLE),
            Map.entry("varchar", Kind.TEXT),
            Map.entry("varbinary", Kind.BYTES),
            Map.entry("date", Kind.DATE),
            Map.entry("time", Kind.TIME),
            Map.entry("timestamp", Kind.TIMESTAMP),
            Map.entry("timestamp with time zone", Kind.INSTANT),
            Map.entry("uuid", Kind.UUID),
            Map.entry("json", Kind.JSON),
            Map.entry("time with time zone", Kind.OTHER),
            Map.entry("interval year to month", Kind.OTHER),
            Map.entry("interval day to second", Kind.OTHER),
            Map.entry("ipaddress", Kind.OTHER));

    private static final Set<String> WITHIN_JSON = Set.of(
            "boolean",
            "tinyint",
            "smallint",
            "integer",
            "bigint",
            "decimal",
            "real",
            "double",
            "varchar",
            "date",
            "timestamp",
            "json");

    private static final Pattern ARGUMENT = Pattern.compile("\\(([^()]*)\\)");
    private static final Pattern NESTED = Pattern.compile("(array|map|row)\\((.*)\\)");
    private static final Pattern FIELD = Pattern.compile("(?:\"(?:[^\"]|\"\")*\"|\\w+) (.+)");
    private static final int USUAL_DIGITS = 3;

    private TrinoTypes() {}

    /**
     * @param declared such as {@code timestamp(6) with time zone}
     */
    static Optional<CanonicalType> canonical(String declared) {
        if (isNested(declared)) {
            return hasJson(declared) ? Optional.of(CanonicalType.of(Kind.JSON)) : Optional.empty();
        }
        String base = base(declared);
        if (base.equals("char")) {
            return Optional.of(CanonicalType.paddedText());
        }
        return Optional.ofNullable(KINDS.get(base)).map(kind -> switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(kind, digits(declared));
            case OTHER -> CanonicalType.other("trino", base);
            default -> CanonicalType.of(kind);
        });
    }

    static boolean isNested(String declared) {
        return NESTED.matcher(declared).matches();
    }

    /** Digits of a second, of which there may be twelve. */
    static int digits(String declared) {
        Matcher argument = ARGUMENT.matcher(declared);
        return argument.find() ? Integer.parseInt(argument.group(1).strip()) : USUAL_DIGITS;
    }

    /** The type without lengths; where they stand differs between what tells it. */
    private static String base(String declared) {
        return ARGUMENT.matcher(declared).replaceAll("").strip();
    }

    /** Whether all that a nested type holds can be cast to JSON. */
    private static boolean hasJson(String declared) {
        Matcher nested = NESTED.matcher(declared);
        if (!nested.matches()) {
            return WITHIN_JSON.contains(base(declared));
        }
        for (String part : parts(nested.group(2))) {
            Matcher field = FIELD.matcher(part);
            boolean named = nested.group(1).equals("row") && field.matches();
            if (nested.group(1).equals("row") && !named || !hasJson(named ? field.group(1) : part)) {
                // Fields without names would all have the same one.
                return false;
            }
        }
        return true;
    }

    /** What commas outside of brackets and quotes separate. */
    private static List<String> parts(String list) {
        List<String> parts = new ArrayList<>();
        int depth = 0;
        int from = 0;
        boolean quoted = false;
        for (int i = 0; i < list.length(); i++) {
            char c = list.charAt(i);
            quoted ^= c == '"';
            depth += quoted ? 0 : c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0 && !quoted) {
                parts.add(list.substring(from, i).strip());
                from = i + 1;
            }
        }
        parts.add(list.substring(from).strip());
        return parts;
    }
}
