package sharptally.api.job.checksum;

import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.formats.checksum.ChecksumFile;

/** The types of a table's columns, as which columns of a file that has none are read. Letter case of names does not count. */
public record ColumnTypes(Map<String, CanonicalType> byName) {
    public ColumnTypes {
        byName = Map.copyOf(byName);
    }

    /** Those that a checksum file tells. */
    public static ColumnTypes of(ChecksumFile file) {
        return new ColumnTypes(file.head().columns().stream()
                .collect(Collectors.toMap(
                        c -> folded(c.name()),
                        c -> c.padded() ? CanonicalType.paddedText() : CanonicalType.time(c.kind(), c.digits()),
                        (one, other) -> one)));
    }

    /**
     * Those of a table.
     *
     * @throws sharptally.core.fault.ToolException when its database can't be read, or has no such table
     */
    public static ColumnTypes of(Endpoint access, String table) {
        try (Place place = access.open()) {
            Map<String, CanonicalType> types = new LinkedHashMap<>();
            for (ColumnShape column : place.describe(table).columns()) {
                column.type().ifPresent(type -> types.put(folded(column.name()), type));
            }
            return new ColumnTypes(types);
        }
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    Optional<CanonicalType> of(String column) {
        return Optional.ofNullable(byName.get(folded(column)));
    }
}
