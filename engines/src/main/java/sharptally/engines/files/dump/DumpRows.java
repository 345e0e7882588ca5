package sharptally.engines.files.dump;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** The rows of one table of a dump, as they stand in it. */
final class DumpRows implements RowSource {
    private static final int MAX_BATCH_BYTES = 2 << 20;
    private static final int CELLS_PER_BATCH = 1 << 17;

    private final Dump dump;
    private final TableShape table;
    private final List<String> wanted;
    private final boolean positions;
    private final long skip;
    private final OptionalLong limit;
    private final int rowsPerBatch;
    private final Optional<Dump.Span> span;
    private final Set<TableName> members;
    private Optional<Open> open = Optional.empty();
    private Optional<Statements.Statement.Rows> statement = Optional.empty();
    private int[] places = new int[0];
    private Literals.Meant[] meant = new Literals.Meant[0];
    private boolean ended;
    private long passed;
    private volatile boolean closed;

    private record Open(DumpBytes in, Statements statements, Literals literals) {}

    /**
     * @param wanted names of columns
     * @param positions whether a further column tells where each row stands
     */
    DumpRows(Dump dump, TableShape table, List<String> wanted, boolean positions, long skip, OptionalLong limit) {
        this.dump = dump;
        this.table = table;
        this.wanted = wanted;
        this.positions = positions;
        this.skip = skip;
        this.limit = limit;
        this.rowsPerBatch = Math.max(16, Math.min(2_048, CELLS_PER_BATCH / Math.max(1, wanted.size())));
        this.span = dump.span(table);
        this.members = dump.tables().members(table.name());
        this.ended = span.isEmpty();
    }

    @Override
    public synchronized Optional<RowBatch> next() {
        List<Column> batch = RowCodec.emptyColumns(wanted.size() + (positions ? 1 : 0), rowsPerBatch);
        int rows = 0;
        long bytes = 0;
        while (!closed
                && rows < rowsPerBatch
                && bytes < MAX_BATCH_BYTES
                && !(limit.isPresent() && passed >= skip + limit.getAsLong())
                && advance()) {
            if (passed++ < skip) {
                row(RowCodec.emptyColumns(wanted.size() + 1, 1));
                continue;
            }
            row(batch);
            rows++;
            bytes = batch.stream().mapToLong(Column::arenaSize).sum();
        }
        return rows == 0 ? Optional.empty() : Optional.of(new RowBatch(batch, rows));
    }

    /** Goes to the begin of the next row. */
    private boolean advance() {
        if (open.isEmpty() && !ended) {
            dump.text().check();
            open(span.orElseThrow().first());
        }
        while (!ended) {
            Open from = open.orElseThrow();
            if (statement.isPresent() && hasRow(from, statement.get())) {
                return true;
            }
            statement = Optional.empty();
            DumpBytes.Place last = span.orElseThrow().last();
            boolean more = from.statements.hasNext();
            if (!more && from.in.place().part() < last.part()) {
                from.in.close();
                open(DumpBytes.Place.begin(from.in.place().part() + 1));
            } else if (!more || from.in.place().compareTo(last) > 0) {
                ended = true;
                from.in.close();
                dump.text().check();
            } else if (from.statements.next() instanceof Statements.Statement.Rows rows) {
                begin(from, rows);
            }
        }
        return false;
    }

    private void open(DumpBytes.Place place) {
        DumpBytes in = new DumpBytes(dump.text(), place);
        open = Optional.of(
                new Open(in, new Statements(in, dump.flavour(), !dump.written()), new Literals(in, dump.flavour())));
    }

    private void begin(Open from, Statements.Statement.Rows rows) {
        if (!members.contains(rows.table())) {
            from.statements.skip(rows);
            return;
        }
        statement = Optional.of(rows);
        List<String> columns = !rows.columns().isEmpty()
                ? rows.columns()
                : dump.tables().columns().get(rows.table());
        places = columns.stream().mapToInt(wanted::indexOf).toArray();
        meant = columns.stream()
                .map(c -> table.column(c)
                        .filter(shape -> dump.flavour() == Flavour.MARIADB)
                        .map(TableWords::meant)
                        .orElse(new Literals.Meant(false, 0)))
                .toArray(Literals.Meant[]::new);
        wanted.stream().filter(c -> !columns.contains(c)).findFirst().ifPresent(c -> {
            throw from.in.problem("rows without a value for column " + c, "dump the table with all its columns");
        });
    }

    /** Whether the statement has another row, at whose begin the text is then. */
    private boolean hasRow(Open from, Statements.Statement.Rows rows) {
        if (rows.copied()) {
            if (from.in.isNext("\\.")) {
                from.in.line();
                return false;
            }
            return true;
        }
        from.statements.blank();
        if (from.in.peek() == ',') {
            from.in.read();
            from.statements.blank();
        }
        return from.in.peek() == '(';
    }

    private void row(List<Column> into) {
        Open from = open.orElseThrow();
        if (positions) {
            into.get(wanted.size())
                    .addText(dump.text().name(from.in.place().part()) + ":"
                            + from.in.place().line());
        }
        if (statement.orElseThrow().copied()) {
            boolean more = true;
            for (int i = 0; i < places.length; i++) {
                if (!more) {
                    throw from.in.problem("a row with too few fields, above this line", "dump the table again");
                }
                more = from.literals.addCopied(places[i] < 0 ? Optional.empty() : Optional.of(into.get(places[i])));
            }
            if (more) {
                throw from.in.problem("a row with too many fields", "dump the table again");
            }
            return;
        }
        for (int i = 0; i < places.length; i++) {
            int separator = from.in.read();
            if (separator != (i == 0 ? '(' : ',')) {
                throw from.in.problem("a row with too few values", "dump the table again");
            }
            if (places[i] < 0) {
                from.literals.skip();
            } else {
                from.literals.add(into.get(places[i]), meant[i]);
            }
            from.statements.blank();
        }
        if (from.in.read() != ')') {
            throw from.in.problem("a row with too many values", "dump the table again");
        }
    }

    @Override
    public void close() {
        closed = true;
        synchronized (this) {
            if (!ended) {
                ended = true;
                open.ifPresent(o -> o.in.close());
            }
        }
    }
}
