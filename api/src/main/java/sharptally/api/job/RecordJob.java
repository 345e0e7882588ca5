package sharptally.api.job;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.UUID;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.sql.SqlText;
import sharptally.formats.run.RunSummary;
import sharptally.report.record.RecordTable;
import sharptally.report.record.RunRecord;

/** Adds a run to the tables of a place, which are made where they are missing. */
public record RecordJob(Endpoint place) {
    /**
     * @throws sharptally.core.fault.ToolException when the place can't be reached or refuses; nothing of the run is
     *     recorded then
     */
    public void record(RunSummary run) {
        add(sink -> new RunRecord(run, UUID.randomUUID().toString()).statements(sink));
    }

    /** That a run failed before it had a folder. */
    public void failed(String at, String tool, int exitCode) {
        add(sink -> sink.accept(RunRecord.failed(UUID.randomUUID().toString(), at, tool, exitCode)));
    }

    /**
     * Makes the tables that are missing, and leaves no doubt that rows can be added.
     *
     * @throws sharptally.core.fault.ToolException when the database can't be reached or refuses
     */
    public void prepare() {
        makeFile();
        makeTables();
        String id = UUID.randomUUID().toString();
        try (ChangeSession session = place.openForChanges()) {
            session.execute(RunRecord.failed(id, "2000-01-01T00:00:00Z", "", 0));
            session.rollback();
        }
        try (ChangeSession session = place.openForChanges()) {
            // A table without transactions has kept the row.
            session.execute(RecordTable.TALLY_RUN.removal(id));
            session.commit();
        } catch (ToolException e) {
            // Whoever may only add rows has transactions to take one back with, or an odd row more.
        }
    }

    private void add(Consumer<Consumer<SqlText>> statements) {
        makeTables();
        try (ChangeSession session = place.openForChanges()) {
            statements.accept(session::execute);
            session.commit();
        }
    }

    /** An empty file is an empty database of SQLite; other engines make their own. */
    private void makeFile() {
        if (!place.address().engine().equals("sqlite")) {
            return;
        }
        Path file = Path.of(place.address().location());
        try {
            if (!Files.exists(file)) {
                Files.createFile(file);
            }
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "can't make the file",
                    place.label() + " (" + e.getMessage() + ")",
                    "check the path",
                    e);
        }
    }

    private void makeTables() {
        List<RecordTable> missing = missing();
        if (!missing.isEmpty()) {
            // Some engines see a new table only in the next transaction.
            try (ChangeSession session = place.openForChanges()) {
                missing.forEach(table -> session.execute(table.creation()));
                session.commit();
            }
        }
    }

    private List<RecordTable> missing() {
        try (Place there = place.open()) {
            return Arrays.stream(RecordTable.values())
                    .filter(table ->
                            there.tables().stream().noneMatch(t -> t.name().equalsIgnoreCase(table.tableName())))
                    .toList();
        }
    }
}
