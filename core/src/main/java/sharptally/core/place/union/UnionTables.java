package sharptally.core.place.union;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * Tables of a union, and what they are in each of its places. Safe for use by several threads.
 *
 * @param address of the union
 * @param known tables that were described, by what is asked of them later
 */
record UnionTables(Address address, UnionAddress union, Map<Known, List<TableShape>> known) {
    UnionTables(Address address, UnionAddress union) {
        this(address, union, new ConcurrentHashMap<>());
    }

    /**
     * A table as it was described.
     *
     * @param columns names and expressions
     */
    record Known(TableName name, Optional<String> query, List<String> columns) {
        static Known of(TableShape table) {
            return new Known(
                    table.name(),
                    table.query(),
                    table.columns().stream()
                            .map(c -> c.name()
                                    + c.expression().map(e -> " = " + e).orElse(""))
                            .toList());
        }
    }

    /** How a place calls the table that the first one calls so. */
    static String nameIn(List<Place> parts, int place, String name) {
        TableName table = TableName.called(
                        parts.get(0).tables(), name, parts.get(0).ownSchema())
                .stream()
                .findFirst()
                .orElse(TableName.of(name));
        boolean own = table.schema()
                .filter(schema -> !schema.equals(parts.get(0).ownSchema()))
                .isEmpty();
        return place == 0 ? name : own ? table.name() : table.toString();
    }

    /** A table of all places, which must be alike in each. */
    TableShape describe(List<Place> parts, Extract extract) {
        List<TableShape> shapes = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            Map<String, String> computed = new java.util.HashMap<>(extract.computed());
            String shard = union.shards().get(i).name();
            Place part = parts.get(i);
            String name = extract.query().isPresent() ? extract.name() : nameIn(parts, i, extract.name());
            if (union.by()
                    .filter(column -> !hasColumn(part, extract, name, column))
                    .isPresent()) {
                computed.put(union.by().get(), "'" + shard.replace("'", "''") + "'");
            }
            Extract own = new Extract(name, extract.query(), extract.where(), computed);
            try {
                shapes.add(part.describe(own));
            } catch (ToolException e) {
                throw new ToolException(e.kind(), "of " + shard + " in a union: " + e.what(), e.where(), e.mend(), e);
            }
        }
        TableShape first = shapes.get(0);
        List<ColumnShape> columns =
                first.columns().stream().map(column -> column(column, shapes)).toList();
        for (int i = 1; i < shapes.size(); i++) {
            int place = i;
            shapes.get(i).columns().stream()
                    .filter(c -> first.column(c.name()).isEmpty())
                    .findFirst()
                    .ifPresent(c -> {
                        throw unlike(first, "has column " + c.name() + " in " + shard(place) + ", not in " + shard(0));
                    });
        }
        // No database holds a key unique that stands in several of them.
        TableShape whole = new TableShape(
                first.name(),
                shapes.stream().anyMatch(TableShape::view),
                columns,
                List.of(),
                List.of(),
                SideEffects.NONE,
                first.query(),
                first.filters(),
                Optional.empty());
        known.put(Known.of(whole), List.copyOf(shapes));
        return whole;
    }

    /** A table that says itself from which of them its rows are is left to do so. */
    private static boolean hasColumn(Place part, Extract extract, String table, String column) {
        TableShape bare = extract.query().isPresent() ? part.describe(extract) : part.describe(table);
        return bare.column(column).isPresent();
    }

    private String shard(int place) {
        return union.shards().get(place).name();
    }

    private ColumnShape column(ColumnShape first, List<TableShape> shapes) {
        List<ColumnShape> all = IntStream.range(0, shapes.size())
                .mapToObj(i -> shapes.get(i)
                        .column(first.name())
                        .orElseThrow(() -> unlike(
                                shapes.get(0),
                                "has column " + first.name() + " in " + shard(0) + ", not in " + shard(i))))
                .toList();
        if (first.expression().isPresent()
                && union.by().filter(first.name()::equals).isPresent()) {
            // A literal of ours, whatever type each place gives it.
            return new ColumnShape(
                    first.name(),
                    "text",
                    Optional.of(CanonicalType.of(Kind.TEXT)),
                    false,
                    Generation.COMPUTED,
                    Optional.empty(),
                    first.expression());
        }
        for (int i = 1; i < all.size(); i++) {
            if (!all.get(i).type().equals(first.type())) {
                throw unlike(
                        shapes.get(0),
                        "has column " + first.name() + " as " + first.declaredType() + " in " + shard(0) + " and as "
                                + all.get(i).declaredType() + " in " + shard(i));
            }
        }
        List<String> types =
                all.stream().map(ColumnShape::declaredType).distinct().toList();
        List<Optional<String>> collations =
                all.stream().map(ColumnShape::collation).distinct().toList();
        return new ColumnShape(
                first.name(),
                String.join(" / ", types),
                first.type(),
                all.stream().anyMatch(ColumnShape::nullable),
                first.generation() == Generation.COMPUTED ? Generation.COMPUTED : Generation.NONE,
                collations.size() == 1 ? collations.get(0) : Optional.of("of several databases"),
                first.expression());
    }

    private ToolException unlike(TableShape table, String how) {
        return new ToolException(
                ErrorKind.USAGE,
                "a table is not alike in all parts of a union: it " + how,
                address.withTable(table.name().toString()).toString(),
                "leave the table out, or compare each part by itself");
    }

    /** A table of the union as one of its places has it. */
    TableShape in(int place, TableShape whole) {
        List<TableShape> parts = known.get(Known.of(whole));
        if (parts == null) {
            throw new IllegalStateException("no such table was described: " + whole.name());
        }
        TableShape part = parts.get(place);
        TableShape bare = new TableShape(
                part.name(),
                part.view(),
                part.columns(),
                part.keys(),
                part.foreignKeys(),
                part.sideEffects(),
                part.query(),
                List.of(),
                part.position());
        for (RowFilter filter : whole.filters()) {
            bare = bare.and(in(bare, filter));
        }
        return bare;
    }

    /** Columns of the union as one of its places has them, read as the union's are. */
    static List<ColumnShape> in(TableShape part, List<ColumnShape> columns) {
        return columns.stream().map(column -> in(part, column)).toList();
    }

    static ColumnShape in(TableShape part, ColumnShape column) {
        ColumnShape own = part.column(column.name()).orElseThrow();
        return own.type().equals(column.type()) || column.type().isEmpty()
                ? own
                : own.read(column.type().get());
    }

    private static RowFilter in(TableShape part, RowFilter filter) {
        if (filter instanceof RowFilter.Compared compared) {
            return new RowFilter.Compared(in(part, compared.column()), compared.comparison(), compared.value());
        }
        if (filter instanceof RowFilter.Null none) {
            return new RowFilter.Null(in(part, none.column()), none.held());
        }
        if (filter instanceof RowFilter.Partition rows) {
            return new RowFilter.Partition(in(part, rows.column()), rows.spans(), rows.nulls(), rows.others());
        }
        if (filter instanceof RowFilter.Sample sample) {
            return new RowFilter.Sample(
                    in(part, sample.key()), sample.comparedAs(), sample.shares(), sample.ofShares());
        }
        return filter;
    }
}
