package sharptally.core.place.shared;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Function;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Integrity;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Sampling;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.Structure;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Declarations;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** A shared place as one thread of one of its members sees it. */
final class Member implements Place, RangeSeek, Checksums, Aggregates, Integrity, Structure {
    private final SharedPlace shared;
    private final Object who;
    private final boolean leading;
    private final boolean sharesState;
    private volatile int seats;
    private OptionalInt companions = OptionalInt.empty();

    /**
     * @param who the same for all threads of a member
     * @param leading whether the member has left when this one is closed
     */
    Member(SharedPlace shared, Object who, boolean leading, boolean sharesState) {
        this.shared = shared;
        this.who = who;
        this.leading = leading;
        this.sharesState = sharesState;
    }

    private <T> T told(Function<Place, T> question) {
        return shared.told(question);
    }

    private <T> T once(Object question, Function<Place, T> answer) {
        return shared.answers().once(this, question, answer);
    }

    synchronized void joined(boolean joins) {
        seats += joins ? 1 : -1;
    }

    boolean mayJoin() {
        return seats == 0;
    }

    /** How many read along last time; empty at first. */
    synchronized OptionalInt companions() {
        return companions;
    }

    synchronized void hadCompany(int members) {
        companions = OptionalInt.of(members);
    }

    @Override
    public Address address() {
        return told(Place::address);
    }

    @Override
    public String product() {
        return told(Place::product);
    }

    @Override
    public Map<String, String> facts() {
        return told(Place::facts);
    }

    @Override
    public boolean readsOneState() {
        return sharesState && told(Place::readsOneState);
    }

    @Override
    public String ownSchema() {
        return told(Place::ownSchema);
    }

    @Override
    public Optional<TableName> soleTable() {
        return told(Place::soleTable);
    }

    @Override
    public List<TableName> tables() {
        return told(Place::tables);
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return told(place -> place.hides(table));
    }

    @Override
    public Estimate estimate(TableName table) {
        return told(place -> place.estimate(table));
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        return told(place -> place.readProblem(table));
    }

    @Override
    public TableShape describe(String table) {
        return told(place -> place.describe(table));
    }

    @Override
    public TableShape describe(Extract extract) {
        return told(place -> place.describe(extract));
    }

    @Override
    public RowSource read(ReadRequest request) {
        return shared.read(this, request);
    }

    @Override
    public List<String> passedOver(TableName table) {
        List<String> all = new ArrayList<>(told(place -> place.passedOver(table)));
        for (Place one : shared.connections()) {
            one.passedOver(table).stream()
                    .filter(record -> !all.contains(record))
                    .forEach(all::add);
        }
        return all;
    }

    @Override
    public Optional<String> imageForm() {
        return told(Place::imageForm);
    }

    /** Another thread of the same member. */
    @Override
    public Place another() {
        return new Member(shared, who, false, sharesState);
    }

    @Override
    public boolean sharesState() {
        return sharesState;
    }

    @Override
    public Optional<RangeSeek> seeking() {
        return told(Place::seeking).map(part -> this);
    }

    @Override
    public Optional<Checksums> checksums() {
        return told(Place::checksums).map(part -> this);
    }

    /** None: a join reads both of its sides, for each of the others anew. */
    @Override
    public Optional<Joins> joins() {
        return Optional.empty();
    }

    @Override
    public Optional<Aggregates> aggregates() {
        return told(Place::aggregates).map(part -> this);
    }

    @Override
    public Optional<Integrity> integrity() {
        return told(Place::integrity).map(part -> this);
    }

    @Override
    public Optional<Structure> structure() {
        return told(Place::structure).map(part -> this);
    }

    @Override
    public Optional<Sampling> sampling() {
        return told(Place::sampling);
    }

    @Override
    public Optional<String> writtenTo() {
        return told(Place::writtenTo);
    }

    @Override
    public Optional<Boolean> hasReplayed(String position) {
        return told(place -> place.hasReplayed(position));
    }

    @Override
    public void close() {
        if (leading) {
            shared.left();
        }
    }

    private static RangeSeek seeking(Place place) {
        return place.seeking().orElseThrow();
    }

    @Override
    public Seek seek(TableShape table, List<ColumnShape> key) {
        return once(List.of("seek", table, key), place -> seeking(place).seek(table, key));
    }

    @Override
    public List<List<Value>> bounds(ReadRequest keys, long rowsPerRange) {
        return once(
                List.of("bounds", keys, rowsPerRange), place -> seeking(place).bounds(keys, rowsPerRange));
    }

    @Override
    public List<List<Value>> roughBounds(ReadRequest keys, long rowsPerRange) {
        return once(
                List.of("roughBounds", keys, rowsPerRange),
                place -> seeking(place).roughBounds(keys, rowsPerRange));
    }

    @Override
    public List<List<Value>> ends(ReadRequest keys) {
        return once(List.of("ends", keys), place -> seeking(place).ends(keys));
    }

    private static Checksums checksums(Place place) {
        return place.checksums().orElseThrow();
    }

    @Override
    public Optional<String> ownForm() {
        return once("own form", place -> checksums(place).ownForm());
    }

    @Override
    public Optional<Obstacle> problem(SumsRequest request) {
        return once(List.of("problem", request), place -> checksums(place).problem(request));
    }

    @Override
    public Map<Long, RangeSum> sums(SumsRequest request) {
        return once(List.of("sums", request), place -> checksums(place).sums(request));
    }

    @Override
    public void cancel() {
        shared.answers().cancel(this);
    }

    private static Aggregates aggregates(Place place) {
        return place.aggregates().orElseThrow();
    }

    @Override
    public long countRows(TableShape table) {
        return once(List.of("rows", table), place -> aggregates(place).countRows(table));
    }

    @Override
    public List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit) {
        return once(
                List.of("repeated keys", table, key, limit),
                place -> aggregates(place).repeatedKeys(table, key, limit));
    }

    @Override
    public Totals totals(TotalsRequest request) {
        Place lent = shared.lent();
        try {
            Totals totals = aggregates(lent).totals(request);
            return new Totals(totals.columns(), new LentRows(totals.rows(), () -> shared.back(lent)));
        } catch (RuntimeException e) {
            shared.broken(lent);
            throw e;
        }
    }

    /** Rows whose connection is given back at their end. */
    private record LentRows(RowSource rows, Runnable end) implements RowSource {
        @Override
        public Optional<RowBatch> next() {
            return rows.next();
        }

        @Override
        public void close() {
            rows.close();
            end.run();
        }
    }

    private static Integrity integrity(Place place) {
        return place.integrity().orElseThrow();
    }

    @Override
    public Unmet orphans(TableShape table, List<String> columns, TableName parent, List<String> parentColumns) {
        return once(
                List.of("orphans", table, columns, parent, parentColumns),
                place -> integrity(place).orphans(table, columns, parent, parentColumns));
    }

    @Override
    public Unmet repeated(TableShape table, List<String> columns) {
        return once(
                List.of("repeated", table, columns), place -> integrity(place).repeated(table, columns));
    }

    @Override
    public Unmet empty(TableShape table, String column, List<String> key) {
        return once(
                List.of("empty", table, column, key), place -> integrity(place).empty(table, column, key));
    }

    @Override
    public Optional<Numbers> numbers(TableShape table, ColumnShape column) {
        return once(List.of("numbers", table, column), place -> integrity(place).numbers(table, column));
    }

    private static Structure structure(Place place) {
        return place.structure().orElseThrow();
    }

    @Override
    public Declarations of(TableShape table) {
        return once(List.of("declarations", table), place -> structure(place).of(table));
    }

    @Override
    public Optional<Partitioning> partitioning(TableShape table) {
        return once(List.of("partitioning", table), place -> structure(place).partitioning(table));
    }
}
