package sharptally.api.job;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import sharptally.core.common.Common;
import sharptally.core.common.CommonRows;
import sharptally.core.common.CommonTraits;
import sharptally.core.compare.Progress;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;

/**
 * Finds what rows that differ have in common and rows that are the same have not: from the findings of a run, and a sample of
 * the rows of the side that holds them. Memory: bounded, however many findings and rows there are.
 *
 * @param wanted of which matches
 */
public record CommonJob(RunFolder run, FindingFilter wanted, Endpoint source, Endpoint target) {
    private static final int MAX_DIFFERING = 5_000;
    private static final int MAX_SAME = 20_000;

    /** Of very wide tables, fewer rows are looked at. */
    private static final int MAX_CELLS = 1_500_000;

    private static final int LEAST_ROWS = 3;
    private static final int MAX_COLUMNS = 8;
    private static final int MAX_PARENTS = 200_000;
    private static final int KEYS_PER_QUERY = 500;
    private static final long SHARES = 1L << 20;

    private record Group(FindingKind kind, Optional<String> column) {}

    /** Who is told how far it is, and may stop it. */
    private record Around(Progress progress, BooleanSupplier stopAsked) {}

    /** Rows with a cell for each column, null where it is not known. */
    private static final class Rows {
        final List<List<@Nullable Value>> rows = new ArrayList<>();
        final List<List<Value>> keys = new ArrayList<>();
        private final Random random;
        private final int most;
        long seen;

        Rows(long seed, int most) {
            this.random = new Random(seed);
            this.most = most;
        }

        /** Where the next one is kept, or -1: each one that comes is kept as likely as any other. */
        int place() {
            seen++;
            long at = rows.size() < most ? rows.size() : (long) (random.nextDouble() * seen);
            return at < most ? (int) at : -1;
        }

        void put(int place, List<@Nullable Value> row, List<Value> key) {
            if (place == rows.size()) {
                rows.add(row);
                keys.add(key);
            } else {
                rows.set(place, row);
                keys.set(place, key);
            }
        }
    }

    /**
     * Opens both places, and looks at each match that differs and was compared to its end.
     *
     * @throws ToolException when a place can't be read, or it was stopped
     */
    public List<CommonRows> find(CompareJob.Watcher watcher, BooleanSupplier stopAsked) {
        List<CommonRows> all = new ArrayList<>();
        if (run.summary().narrowed().stream().anyMatch(Narrowing::leavesRowsUntold)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a part of the keys was compared, and none of the other rows may be called the same",
                    run.folder().toString(),
                    "compare all of them, or narrow by a condition");
        }
        try (Place from = source.open();
                Place to = target.open()) {
            for (TableMatch match : run.matches()) {
                Optional<MatchSummary> summary = run.summaryOf(match)
                        .filter(m -> wanted.wants(match) && m.differences() > 0 && m.state() == RunState.COMPLETE);
                if (summary.isPresent()) {
                    try (CompareJob.Watch watch =
                            watcher.begin(match, summary.get().sourceRows())) {
                        Around around = new Around(watch, stopAsked);
                        all.addAll(new OfMatch(match, summary.get(), from, Side.SOURCE, around).look());
                        all.addAll(new OfMatch(match, summary.get(), to, Side.TARGET, around).look());
                    }
                }
            }
        }
        return all;
    }

    /** The rows of one side that differ. */
    private final class OfMatch {
        private final TableMatch match;
        private final MatchSummary summary;
        private final Place place;
        private final Side side;
        private final TableShape table;
        private final List<ColumnShape> columns;
        private final int most;
        private final Around around;
        private long read;

        OfMatch(TableMatch match, MatchSummary summary, Place place, Side side, Around around) {
            this.around = around;
            this.match = match;
            this.summary = summary;
            this.place = place;
            this.side = side;
            boolean ofSource = side == Side.SOURCE;
            this.table = ofSource ? match.source() : match.target();
            List<ColumnShape> alone = (ofSource ? match.sourceOnly() : match.targetOnly())
                    .stream().filter(c -> c.type().isPresent()).toList();
            this.columns = Stream.concat(
                            match.pairs().stream().map(p -> ofSource ? p.source() : p.target()), alone.stream())
                    .toList();
            this.most = Math.max(200, MAX_CELLS / Math.max(1, columns.size()));
        }

        private Set<FindingKind> kinds() {
            return side == Side.SOURCE ? Set.of(FindingKind.MISSING, FindingKind.CHANGED) : Set.of(FindingKind.EXTRA);
        }

        List<CommonRows> look() {
            long here = side == Side.SOURCE ? summary.missing() + summary.changed() : summary.extra();
            if (here < LEAST_ROWS) {
                return List.of();
            }
            long inTable = side == Side.SOURCE ? summary.sourceRows() : summary.targetRows();
            Rows same = sample(inTable);
            boolean sampled = same.seen < inTable || same.seen > same.rows.size();
            Map<String, Integer> places = new HashMap<>();
            for (int i = 0; i < same.keys.size(); i++) {
                places.put(told(same.keys.get(i)), i);
            }
            Set<Integer> differ = new HashSet<>();
            Map<Group, Rows> groups = new LinkedHashMap<>();
            Set<String> often = summary.differing().stream()
                    .map(ColumnSummary::column)
                    .limit(MAX_COLUMNS)
                    .collect(Collectors.toSet());
            run.forEach(match, kinds(), finding -> {
                Optional.ofNullable(places.get(told(key(finding)))).ifPresent(differ::add);
                for (Group group : groups(finding, often)) {
                    Rows rows = groups.computeIfAbsent(
                            group, g -> new Rows(g.toString().hashCode(), Math.min(most, MAX_DIFFERING)));
                    int place = rows.place();
                    if (place >= 0) {
                        rows.put(place, row(finding), finding.key());
                    }
                }
            });
            List<List<@Nullable Value>> left = IntStream.range(0, same.rows.size())
                    .filter(i -> !differ.contains(i))
                    .mapToObj(same.rows::get)
                    .toList();
            Map<Group, CommonRows> told = new LinkedHashMap<>();
            groups.forEach((group, rows) -> {
                Optional<CommonRows> all = Optional.ofNullable(told.get(new Group(group.kind, Optional.empty())));
                boolean isTold = group.column.isPresent()
                        && all.filter(a -> a.rows() == rows.seen).isPresent();
                if (rows.seen >= LEAST_ROWS && !isTold) {
                    fill(rows);
                    told.put(group, ofGroup(group, rows, left, sampled));
                }
            });
            return told.values().stream().filter(of -> !isSaid(of, told)).toList();
        }

        /** What is so of all changed rows need not be said again of those that differ in one column. */
        private static boolean isSaid(CommonRows of, Map<Group, CommonRows> told) {
            Optional<CommonRows> all = Optional.ofNullable(told.get(new Group(of.kind(), Optional.empty())));
            return of.column().isPresent()
                    && (of.common().isEmpty()
                            || all.filter(a -> words(a).equals(words(of))).isPresent());
        }

        private static List<String> words(CommonRows of) {
            return of.common().stream().map(Common::words).toList();
        }

        private List<Group> groups(Finding finding, Set<String> often) {
            List<Group> groups = new ArrayList<>(List.of(new Group(finding.kind(), Optional.empty())));
            if (finding instanceof Finding.Changed changed) {
                changed.differences().stream()
                        .map(d -> match.pairs().get(d.pair()).name())
                        .filter(often::contains)
                        .forEach(column -> groups.add(new Group(finding.kind(), Optional.of(column))));
            }
            return groups;
        }

        private CommonRows ofGroup(Group group, Rows rows, List<List<@Nullable Value>> same, boolean sampled) {
            CommonTraits traits = new CommonTraits(columns, rows.rows, same);
            parents().forEach((key, lost) -> {
                List<Integer> at = key.columns().stream()
                        .map(name ->
                                columns.stream().map(ColumnShape::name).toList().indexOf(name))
                        .toList();
                if (!at.contains(-1)) {
                    traits.add(
                            "its row of " + key.parent() + " is " + (side == Side.SOURCE ? "missing" : "extra")
                                    + " as well",
                            row -> lost.contains(told(at.stream().map(row::get).toList())));
                }
            });
            return new CommonRows(match.name(), group.kind, group.column, rows.seen, sampled, traits.find());
        }

        /** Keys of rows to which this table refers and that one side alone has. */
        private Map<ForeignKey, Set<String>> parents() {
            Map<ForeignKey, Set<String>> parents = new LinkedHashMap<>();
            FindingKind kind = side == Side.SOURCE ? FindingKind.MISSING : FindingKind.EXTRA;
            for (ForeignKey key : table.foreignKeys()) {
                run.matches().stream()
                        .filter(m -> (side == Side.SOURCE ? m.source() : m.target())
                                .name()
                                .equals(key.parent()))
                        .findFirst()
                        .ifPresent(parent -> {
                            List<String> names = parent.pairs().stream()
                                    .map(p -> (side == Side.SOURCE ? p.source() : p.target()).name())
                                    .toList();
                            List<Integer> at = key.parentColumns().stream()
                                    .map(names::indexOf)
                                    .toList();
                            Set<String> lost = new HashSet<>();
                            if (!at.contains(-1)) {
                                run.forEach(parent, Set.of(kind), finding -> {
                                    List<Value> row = finding instanceof Finding.Missing m
                                            ? m.row()
                                            : ((Finding.Extra) finding).row();
                                    if (lost.size() < MAX_PARENTS) {
                                        lost.add(told(at.stream().map(row::get).toList()));
                                    }
                                });
                            }
                            if (!lost.isEmpty()) {
                                parents.put(key, lost);
                            }
                        });
            }
            return parents;
        }

        private static String told(List<? extends @Nullable Value> values) {
            StringBuilder text = new StringBuilder();
            values.forEach(
                    v -> text.append(String.valueOf(v).length()).append(':').append(v));
            return text.toString();
        }

        /** What tells a row: its key, or all of it. */
        private List<Value> key(Finding finding) {
            if (match.wholeRow()) {
                List<Value> row = finding instanceof Finding.Missing m ? m.row() : ((Finding.Extra) finding).row();
                return row.subList(0, match.pairs().size());
            }
            return finding.key();
        }

        /** The columns of a finding in the order of {@link #columns}. */
        private List<@Nullable Value> row(Finding finding) {
            @Nullable Value[] row = new Value[columns.size()];
            if (finding instanceof Finding.Changed changed) {
                for (int i = 0; i < match.key().size(); i++) {
                    row[match.key().get(i)] = changed.key().get(i);
                }
                for (Difference difference : changed.differences()) {
                    row[difference.pair()] = difference.source();
                }
                for (Difference alike : changed.same()) {
                    row[alike.pair()] = alike.source();
                }
            } else {
                List<Value> held = finding instanceof Finding.Missing m ? m.row() : ((Finding.Extra) finding).row();
                for (int i = 0; i < Math.min(held.size(), row.length); i++) {
                    row[i] = held.get(i);
                }
            }
            return new ArrayList<>(Arrays.asList(row));
        }

        /** Columns that were not compared, read by key; where that can't be done, they stay unknown. */
        private void fill(Rows rows) {
            int pairs = match.pairs().size();
            boolean known = columns.size() == pairs || side == Side.TARGET;
            if (known || match.wholeRow() || place.seeking().isEmpty()) {
                return;
            }
            List<ColumnShape> key = keyColumns();
            List<ColumnShape> read = new ArrayList<>(key);
            read.addAll(columns.subList(pairs, columns.size()));
            Map<String, List<@Nullable Value>> byKey = new HashMap<>();
            for (int i = 0; i < rows.rows.size(); i++) {
                byKey.put(told(rows.keys.get(i)), rows.rows.get(i));
            }
            List<KeyRange> ranges = rows.keys.stream().map(KeyRange::only).toList();
            try {
                for (int at = 0; at < ranges.size(); at += KEYS_PER_QUERY) {
                    List<KeyRange> some = ranges.subList(at, Math.min(ranges.size(), at + KEYS_PER_QUERY));
                    each(new ReadRequest(table, read, key).within(some), made -> {
                        List<Value> cells = made.get();
                        List<@Nullable Value> row = byKey.get(told(cells.subList(0, key.size())));
                        for (int c = pairs; row != null && c < columns.size(); c++) {
                            row.set(c, cells.get(key.size() + c - pairs));
                        }
                    });
                }
            } catch (ToolException e) {
                if (e.kind() == ErrorKind.INCOMPLETE) {
                    throw e;
                }
                // They stay unknown, and nothing is told of them.
            }
        }

        private List<ColumnShape> keyColumns() {
            return match.keyPairs().stream()
                    .map(p -> side == Side.SOURCE ? p.source() : p.target())
                    .toList();
        }

        /** Rows of the table, chosen by the hash of their keys where the place can do that, else from all of them. */
        private Rows sample(long inTable) {
            int rows = Math.min(most, MAX_SAME);
            TableShape chosen = table;
            if (inTable > rows && !match.wholeRow()) {
                RowFilter.Sample sample = new RowFilter.Sample(
                        keyColumns(),
                        match.keyPairs().stream().map(ColumnPair::comparedAs).toList(),
                        Math.max(1, Math.round((double) rows / inTable * SHARES)),
                        SHARES);
                if (place.sampling().filter(s -> s.chooses(sample)).isPresent()) {
                    chosen = table.and(sample);
                }
            }
            Rows found = new Rows(match.name().hashCode(), rows);
            List<Integer> key = match.wholeRow()
                    ? IntStream.range(0, match.pairs().size()).boxed().toList()
                    : match.key();
            each(new ReadRequest(chosen, columns, List.of()), cells -> {
                int at = found.place();
                if (at >= 0) {
                    List<Value> row = cells.get();
                    found.put(at, List.copyOf(row), key.stream().map(row::get).toList());
                }
            });
            return found;
        }

        /** Each row, whose cells are made when they are asked for. */
        private void each(ReadRequest request, Consumer<Supplier<List<Value>>> consumer) {
            try (RowSource source = place.read(request)) {
                for (Optional<RowBatch> batch = source.next(); batch.isPresent(); batch = source.next()) {
                    for (int row = 0; row < batch.get().rows(); row++) {
                        RowBatch in = batch.get();
                        int at = row;
                        consumer.accept(
                                () -> IntStream.range(0, request.columns().size())
                                        .mapToObj(c -> in.column(c).value(at))
                                        .toList());
                    }
                    read += batch.get().rows();
                    around.progress.rows(side == Side.SOURCE ? read : 0, side == Side.TARGET ? read : 0);
                    if (around.stopAsked.getAsBoolean()) {
                        throw new ToolException(
                                ErrorKind.INCOMPLETE, "stopped on request", match.name(), "nothing was told of it");
                    }
                }
            }
        }
    }
}
