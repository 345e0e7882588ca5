package sharptally.engines.oracle;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What Oracle's types mean, by their names in the data dictionary. */
final class OracleTypes {
    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("BINARY_FLOAT", Kind.FLOAT),
            Map.entry("BINARY_DOUBLE", Kind.DOUBLE),
            Map.entry("FLOAT", Kind.DECIMAL),
            Map.entry("VARCHAR2", Kind.TEXT),
            Map.entry("NVARCHAR2", Kind.TEXT),
            Map.entry("CLOB", Kind.TEXT),
            Map.entry("NCLOB", Kind.TEXT),
            Map.entry("RAW", Kind.BYTES),
            Map.entry("BLOB", Kind.BYTES),
            Map.entry("BOOLEAN", Kind.BOOLEAN),
            Map.entry("JSON", Kind.JSON),
            Map.entry("XMLTYPE", Kind.OTHER),
            Map.entry("ROWID", Kind.OTHER),
            Map.entry("UROWID", Kind.OTHER));

    private static final Set<String> PADDED = Set.of("CHAR", "NCHAR");
    private static final Set<String> SIZED = Set.of("CHAR", "NCHAR", "VARCHAR2", "NVARCHAR2", "RAW");
    private static final Pattern DIGITS = Pattern.compile("\\((\\d+)\\)");

    /** So many digits fit 64 bits whatever they are. */
    private static final int WHOLE_DIGITS = 18;

    private OracleTypes() {}

    /**
     * Empty for what can't be compared: LONG and LONG RAW, which stand in no expression, BFILE, and types made by users.
     *
     * @param type as the dictionary has it, such as {@code TIMESTAMP(6) WITH TIME ZONE}
     * @param precision of a NUMBER, 0 where none is declared
     * @param scale of a NUMBER; of any where neither is declared
     */
    static Optional<CanonicalType> canonical(String type, int precision, Optional<Integer> scale) {
        String base = base(type);
        if (type.equals("NUMBER")) {
            boolean whole = precision > 0 && precision <= WHOLE_DIGITS && scale.equals(Optional.of(0));
            return Optional.of(CanonicalType.of(whole ? Kind.INTEGER : Kind.DECIMAL));
        } else if (PADDED.contains(base)) {
            return Optional.of(CanonicalType.paddedText());
        } else if (type.equals("DATE")) {
            return Optional.of(CanonicalType.time(Kind.TIMESTAMP, 0));
        } else if (type.startsWith("TIMESTAMP")) {
            return Optional.of(
                    CanonicalType.time(type.contains("TIME ZONE") ? Kind.INSTANT : Kind.TIMESTAMP, digits(type)));
        } else if (type.startsWith("INTERVAL")) {
            return Optional.of(CanonicalType.other("oracle", type.replaceAll("\\(\\d+\\)", "")));
        }
        return Optional.ofNullable(KINDS.get(base)).map(kind -> switch (kind) {
            case OTHER -> CanonicalType.other("oracle", base);
            case TEXT -> CanonicalType.textNeverEmpty();
            default -> CanonicalType.of(kind);
        });
    }

    private static int digits(String type) {
        Matcher digits = DIGITS.matcher(type);
        return digits.find() ? Integer.parseInt(digits.group(1)) : 6;
    }

    /** As it is declared. */
    static String declared(String type, int length, int precision, Optional<Integer> scale) {
        if (SIZED.contains(type)) {
            return type + "(" + length + ")";
        } else if (type.equals("NUMBER") && scale.isPresent()) {
            return "NUMBER(" + (precision == 0 ? "*" : Integer.toString(precision)) + "," + scale.get() + ")";
        }
        return type;
    }

    /** The type without lengths. */
    static String base(String declared) {
        int bracket = declared.indexOf('(');
        return bracket < 0 ? declared : declared.substring(0, bracket);
    }

    /** Whether it is held apart from the row, and compared by functions alone. */
    static boolean isLarge(String declared) {
        return declared.endsWith("LOB");
    }
}
