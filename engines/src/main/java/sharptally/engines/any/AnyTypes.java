package sharptally.engines.any;

import java.sql.Types;
import java.util.Locale;
import java.util.Optional;
import sharptally.core.place.profile.Profile;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What the types of the JDBC standard mean. What is not in the standard is not compared. */
final class AnyTypes {
    private AnyTypes() {}

    /**
     * @param type a constant of {@link Types}
     * @param name the type in the database's own words
     * @param digits digits of a second, as the driver tells them
     */
    static Optional<CanonicalType> canonical(Profile profile, int type, String name, int digits) {
        Optional<CanonicalType> told = profile.type(name);
        if (told.isPresent()) {
            return told;
        }
        Optional<Kind> kind = switch (type) {
            case Types.BOOLEAN -> Optional.of(Kind.BOOLEAN);
            case Types.TINYINT, Types.SMALLINT, Types.INTEGER, Types.BIGINT -> Optional.of(Kind.INTEGER);
            case Types.DECIMAL, Types.NUMERIC -> Optional.of(Kind.DECIMAL);
            case Types.REAL -> Optional.of(Kind.FLOAT);
            // In JDBC, FLOAT is as wide as DOUBLE.
            case Types.FLOAT, Types.DOUBLE -> Optional.of(Kind.DOUBLE);
            case Types.VARCHAR, Types.LONGVARCHAR, Types.CLOB, Types.NVARCHAR, Types.NCLOB, Types.LONGNVARCHAR ->
                Optional.of(Kind.TEXT);
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> Optional.of(Kind.BYTES);
            case Types.DATE -> Optional.of(Kind.DATE);
            case Types.TIME -> Optional.of(Kind.TIME);
            case Types.TIMESTAMP -> Optional.of(Kind.TIMESTAMP);
            case Types.TIMESTAMP_WITH_TIMEZONE -> Optional.of(Kind.INSTANT);
            default -> name.toLowerCase(Locale.ROOT).equals("uuid") ? Optional.of(Kind.UUID) : Optional.empty();
        };
        if (type == Types.CHAR || type == Types.NCHAR) {
            return Optional.of(CanonicalType.paddedText());
        }
        return kind.map(k -> switch (k) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(k, digits <= 0 ? CanonicalType.ANY_DIGITS : digits);
            default -> CanonicalType.of(k);
        });
    }
}
