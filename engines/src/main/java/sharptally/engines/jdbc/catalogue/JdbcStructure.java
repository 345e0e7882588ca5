package sharptally.engines.jdbc.catalogue;

import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.place.part.Structure;
import sharptally.core.shape.Declaration;
import sharptally.core.shape.Declaration.Sort;
import sharptally.core.shape.Declarations;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.Rows;

/** What a catalogue declares of tables, asked sort by sort. */
public record JdbcStructure(PlaceSession session) implements Structure {
    @Override
    public Declarations of(TableShape table) {
        List<Declaration> all = new ArrayList<>();
        Set<Sort> told = EnumSet.of(Sort.KEY, Sort.REFERENCE);
        table.keys().stream()
                .filter(KeyShape::primary)
                .forEach(key -> all.add(new Declaration(Sort.KEY, key.columns(), "", "")));
        table.foreignKeys()
                .forEach(key -> all.add(new Declaration(
                        Sort.REFERENCE,
                        key.columns(),
                        "",
                        "to " + key.parent().name() + " (" + String.join(", ", key.parentColumns()) + ")")));
        for (DeclarationQuery query : queries()) {
            told.add(query.sort());
            all.addAll(asked(table, query));
        }
        return new Declarations(all, told);
    }

    @Override
    public Optional<Partitioning> partitioning(TableShape table) {
        try {
            return session.engine()
                    .catalogue()
                    .partitioning(session.connection().get(), table.name());
        } catch (SQLException e) {
            throw session.failed("can't ask for the partitions of " + table.name(), e);
        } finally {
            session.statementDone().run();
        }
    }

    private List<DeclarationQuery> queries() {
        try {
            return session.engine()
                    .catalogue()
                    .declarations(session.connection().get());
        } catch (SQLException e) {
            throw session.failed("can't ask what is declared of tables", e);
        }
    }

    private List<Declaration> asked(TableShape table, DeclarationQuery query) {
        try {
            String schema = table.name()
                    .schema()
                    .orElse(session.engine()
                            .catalogue()
                            .ownSchema(session.connection().get()));
            String[] binds = query.bindsSchema()
                    ? new String[] {schema, table.name().name()}
                    : new String[] {table.name().name()};
            return Rows.read(
                    session.connection().get(),
                    query.sql(),
                    row -> new Declaration(
                            query.sort(),
                            Arrays.stream(text(row.getString(2)).split("\n"))
                                    .filter(column -> !column.isEmpty())
                                    .toList(),
                            text(row.getString(1)),
                            text(row.getString(3))),
                    binds);
        } catch (SQLException e) {
            throw session.failed("can't ask what is declared of " + table.name(), e);
        } finally {
            session.statementDone().run();
        }
    }

    private static String text(@org.jspecify.annotations.Nullable String value) {
        return value == null ? "" : value.strip();
    }
}
