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
record DumpFiles(KeptDump keeping, Dump dump) implements RowFiles {
    DumpFiles(KeptDump keeping) {
        this(keeping, keeping.dump());
    }

    @Override
    public String product() {
        if (!dump.written()) {
            return "scripts of SQL";
        }
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
        if (dump.text().parts().size() > 1) {
            facts.put("files", Integer.toString(dump.text().parts().size()));
        }
        if (dump.text().passedOver() > 0) {
            facts.put("passed over", dump.text().passedOver() + " files whose names do not end in .sql");
        }
        keeping.kept()
                .ifPresent(kept -> facts.put(
                        "kept", "what is read of it, in " + kept.folder().getParent() + " for this user alone"));
        return facts;
    }

    @Override
    public String ownSchema() {
        return dump.flavour().ownSchema;
    }

    @Override
    public List<TableName> tables() {
        return dump.tables().listed();
    }

    @Override
    public Optional<TableName> soleTable() {
        return Optional.empty();
    }

    @Override
    public TableShape describe(TableName table) {
        return Optional.ofNullable(dump.tables().shapes().get(table)).orElseThrow();
    }

    @Override
    public List<String> passedOver(TableName table) {
        return List.of();
    }

    @Override
    public List<Path> files(TableName table) {
        return dump.text().parts();
    }

    @Override
    public Estimate estimate(TableName table) {
        OptionalLong rows = keeping.count(describe(table));
        return new Estimate(rows, OptionalLong.empty());
    }

    @Override
    public RowSource read(TableName table, List<String> columns, boolean positions, long skip, OptionalLong limit) {
        return keeping.read(describe(table), columns, positions, skip, limit);
    }
}
