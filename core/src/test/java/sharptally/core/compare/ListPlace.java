package sharptally.core.compare;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** A place of one table whose rows are a list, delivered in the list's order, in batches of a few rows. */
record ListPlace(TableShape table, List<List<Value>> rows, int rowsPerBatch) implements Place {
    @Override
    public Address address() {
        return Address.parse("list:rows");
    }

    @Override
    public String product() {
        return "list";
    }

    @Override
    public java.util.Map<String, String> facts() {
        return java.util.Map.of();
    }

    @Override
    public String ownSchema() {
        return "main";
    }

    @Override
    public Optional<TableName> soleTable() {
        return Optional.empty();
    }

    @Override
    public List<TableName> tables() {
        return List.of(table.name());
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public TableShape describe(String name) {
        return table;
    }

    @Override
    public TableShape describe(sharptally.core.place.Extract extract) {
        return table;
    }

    @Override
    public boolean readsOneState() {
        return true;
    }

    @Override
    public Place another() {
        return this;
    }

    @Override
    public boolean sharesState() {
        return true;
    }

    @Override
    public sharptally.core.place.Estimate estimate(TableName name) {
        return sharptally.core.place.Estimate.UNKNOWN;
    }

    @Override
    public Optional<String> readProblem(TableName name) {
        return Optional.empty();
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Optional<sharptally.core.place.part.RangeSeek> seeking() {
        return Optional.empty();
    }

    @Override
    public Optional<sharptally.core.place.part.Checksums> checksums() {
        return Optional.empty();
    }

    @Override
    public Optional<sharptally.core.place.part.Joins> joins() {
        return Optional.empty();
    }

    @Override
    public Optional<sharptally.core.place.part.Aggregates> aggregates() {
        return Optional.empty();
    }

    @Override
    public Optional<sharptally.core.place.part.Sampling> sampling() {
        return Optional.empty();
    }

    @Override
    public RowSource read(ReadRequest request) {
        return of(rows, request.columns().size(), rowsPerBatch);
    }

    static RowSource of(List<List<Value>> rows, int columns, int rowsPerBatch) {
        List<RowBatch> batches = new ArrayList<>();
        for (int from = 0; from < rows.size(); from += rowsPerBatch) {
            List<List<Value>> part = rows.subList(from, Math.min(rows.size(), from + rowsPerBatch));
            List<Column> cells = RowCodec.emptyColumns(columns, part.size());
            part.forEach(row -> {
                for (int c = 0; c < columns; c++) {
                    cells.get(c).add(row.get(c));
                }
            });
            batches.add(new RowBatch(cells, part.size()));
        }
        var left = batches.iterator();
        return new RowSource() {
            @Override
            public Optional<RowBatch> next() {
                return left.hasNext() ? Optional.of(left.next()) : Optional.empty();
            }

            @Override
            public void close() {}
        };
    }

    @Override
    public void close() {}

    @Override
    public List<String> passedOver(TableName table) {
        return List.of();
    }
}
