package sharptally.engines.files.dump;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.place.Estimate;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.files.RowFiles;

/** The tables of a dump. */
record DumpFiles(Dump dump) implements RowFiles {
    @Override
    public String product() {
        return switch (dump.flavour()) {
            case POSTGRESQL -> "dump of PostgreSQL";
            case MARIADB -> "dump of MariaDB or MySQL";
            case SQLITE -> "dump of SQLite";
        };
    }

    @Override
    public Map<String, String> facts() {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("written as", dump.flavour().name().toLowerCase(Locale.ROOT));
        return facts;
    }

    @Override
    public String ownSchema() {
        return dump.flavour().ownSchema;
    }

    @Override
    public List<TableName> tables() {
        return List.copyOf(dump.tables().keySet());
    }

    @Override
    public Optional<TableName> soleTable() {
        return Optional.empty();
    }

    @Override
    public TableShape describe(TableName table) {
        return Optional.ofNullable(dump.tables().get(table)).orElseThrow();
    }

    @Override
    public List<String> passedOver(TableName table) {
        return List.of();
    }

    @Override
    public List<Path> files(TableName table) {
        return List.of(dump.file());
    }

    @Override
    public Estimate estimate(TableName table) {
        return Estimate.UNKNOWN;
    }

    @Override
    public RowSource read(TableName table, List<String> columns, boolean positions, long skip, OptionalLong limit) {
        return new DumpRows(dump, describe(table), columns, positions, skip, limit);
    }
}
