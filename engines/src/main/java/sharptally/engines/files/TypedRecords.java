package sharptally.engines.files;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.BooleanSupplier;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Records;
import sharptally.core.rows.Cast;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/** Records whose rows are read as the types that the other side gives them. */
record TypedRecords(Records records) implements Records {
    /** Rows as the types of their columns. */
    static RowSource typed(RowSource rows, List<ColumnShape> columns) {
        return columns.stream()
                        .anyMatch(c -> Cast.ofWriting(c.type().orElseThrow()).isPresent())
                ? new FilteredRows(
                        rows,
                        columns,
                        List.of(),
                        Optional.empty(),
                        columns,
                        new FilteredRows.Limit(0, OptionalLong.empty()))
                : rows;
    }

    @Override
    public String writtenIn(TableShape table) {
        return records.writtenIn(table);
    }

    @Override
    public boolean hash(TableShape table, Hashing hashing, BooleanSupplier stop, Taking taking) {
        return records.hash(table, hashing, stop, taking);
    }

    @Override
    public Optional<RowSource> all(ReadRequest request) {
        return records.all(request).map(rows -> typed(rows, request.columns()));
    }

    @Override
    public void unchanged() {
        records.unchanged();
    }

    @Override
    public boolean areMarked() {
        return records.areMarked();
    }

    @Override
    public RowSource only(ReadRequest request, BitSet rows) {
        return typed(records.only(request, rows), request.columns());
    }
}
