package sharptally.api.probe;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.api.ComparisonResult;
import sharptally.api.Database;
import sharptally.api.Method;
import sharptally.api.RowDifference;
import sharptally.api.SharpTally;
import sharptally.api.SharpTallyException;
import sharptally.api.TableResult;
import sharptally.api.Verdict;
import sharptally.api.probe.Scratch.Made;
import sharptally.core.checksum.RowHash;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.report.probe.ProbeText;
import sharptally.report.probe.ProbeText.Finding;
import sharptally.report.probe.ProbeText.Probed;

/**
 * Tries on a server what this program promises of its engine: makes scratch tables of every type with values at which databases
 * go wrong, has them compared in every way, changed under guards, and dropped again. Nothing else is touched.
 *
 * @param tally what is tried
 * @param place the database, as {@code tally} opens it
 * @param endpoint the same
 * @param schema where scratch tables are made
 */
public record Probe(SharpTally tally, Database place, Endpoint endpoint, String schema) {
    private static final List<Method> METHODS = List.of(Method.STREAM, Method.CHECKSUM, Method.JOINED);
    private static final int EXAMPLES = 3;

    /** Of these, docs/checksums.md promises less. */
    private static final Set<Kind> WRITTEN = EnumSet.of(Kind.FLOAT, Kind.DOUBLE, Kind.JSON);

    /**
     * Tries all of it.
     *
     * @throws ToolException when the place can't be opened, or can only be read
     * @throws SharpTallyException when it can't be opened in the way of programs
     */
    public ProbeText.Report run() {
        String product;
        Map<String, String> facts;
        Optional<String> prefix;
        try (Place opened = endpoint.open()) {
            product = opened.product();
            facts = opened.facts();
            prefix = Optional.of(schema).filter(s -> !s.equals(opened.ownSchema()));
        }
        List<Probed> types = new ArrayList<>();
        List<Finding> guards = new ArrayList<>();
        Scratch scratch = new Scratch(endpoint, prefix);
        try (scratch) {
            int number = 0;
            for (ProbedType type : ProbedType.of(endpoint.address().engine())) {
                types.add(new OneType(scratch, type, "t" + number).probed());
                number++;
            }
            guards.addAll(guards(scratch));
        }
        return new ProbeText.Report(
                endpoint.label().withoutTable().toString(), product, facts, types, guards, scratch.left());
    }

    private ComparisonResult compared(
            Scratch scratch, TableName source, TableName target, Method method, String... key) {
        scratch.release();
        return tally.compare(place.table(source.toString()), place.table(target.toString()))
                .key(key)
                .method(method)
                .run();
    }

    /** What a change does where somebody else was there before, where it is only tried, and where it is made. */
    private List<Finding> guards(Scratch scratch) {
        TableName source = scratch.keyed("guard_a", "id INTEGER", "v INTEGER").table();
        Made target = scratch.keyed("guard_b", "id INTEGER", "v INTEGER");
        if (target.refused().isPresent()) {
            return List.of(
                    new Finding("guards", Optional.empty(), target.refused().get()));
        }
        for (int id = 1; id <= 3; id++) {
            scratch.insert(source, Integer.toString(id), Integer.toString(id));
            scratch.insert(target.table(), Integer.toString(id), "0");
        }
        List<Finding> findings = new ArrayList<>();
        try (ComparisonResult result = compared(scratch, source, target.table(), Method.STREAM, "id")) {
            scratch.update(target.table(), "2", "9");
            scratch.release();
            if (isPartial(target.table())) {
                findings.add(finding("a row that somebody else changed meanwhile stops what is behind it", () -> {
                    try {
                        result.applyOneByOne();
                        return false;
                    } catch (SharpTallyException e) {
                        return e.kind() == SharpTallyException.Kind.REFUSED
                                && changed(scratch, source, target.table()) == 2;
                    }
                }));
                return findings;
            }
            findings.add(finding("a row that somebody else changed meanwhile stops all changes", () -> {
                try {
                    result.apply();
                    return false;
                } catch (SharpTallyException e) {
                    return e.kind() == SharpTallyException.Kind.REFUSED
                            && changed(scratch, source, target.table()) == 3;
                }
            }));
            scratch.update(target.table(), "2", "0");
            scratch.release();
            findings.add(finding("what is only tried is taken back", () -> {
                long rows = result.tryChanges().rows();
                return rows == 3 && changed(scratch, source, target.table()) == 3;
            }));
            findings.add(finding(
                    "what is changed is the same afterwards",
                    () -> result.apply().rows() == 3 && changed(scratch, source, target.table()) == 0));
        }
        return findings;
    }

    private boolean isPartial(TableName table) {
        try (Place opened = endpoint.open()) {
            return ScriptSafeguards.isPartial(opened.describe(table.toString()));
        }
    }

    private long changed(Scratch scratch, TableName source, TableName target) {
        try (ComparisonResult again = compared(scratch, source, target, Method.STREAM, "id")) {
            return again.differenceCount();
        }
    }

    /** A promise, and whether it is kept. */
    private interface Promise {
        boolean isKept();
    }

    private static Finding finding(String what, Promise promise) {
        try {
            return new Finding(what, Optional.of(promise.isKept()), "");
        } catch (SharpTallyException e) {
            return new Finding(what, Optional.of(false), String.valueOf(e.getMessage()));
        }
    }

    /** One type, in tables of its own. */
    private final class OneType {
        private final Scratch scratch;
        private final ProbedType type;
        private final String name;
        private final Map<String, String> told = new LinkedHashMap<>();
        private final List<String> notes = new ArrayList<>();

        /** Rows in which the sides differ, by their number: what one has and what the other. */
        private final Map<Long, String> differing = new TreeMap<>();

        OneType(Scratch scratch, ProbedType type, String name) {
            this.scratch = scratch;
            this.type = type;
            this.name = name;
        }

        Probed probed() {
            Made source = scratch.keyed(name + "a", "id INTEGER", "v " + type.type());
            Made target = scratch.keyed(name + "b", "id INTEGER", "v " + type.type());
            if (source.refused().isPresent() || target.refused().isPresent()) {
                return new Probed(type.type(), Optional.empty(), Map.of(), List.of("there is no such type here"));
            }
            int taken = fill(source.table(), target.table());
            scratch.release();
            if (taken < 2) {
                return new Probed(type.type(), Optional.empty(), Map.of(), List.of("can't hold what was to be tried"));
            }
            Optional<String> kind = comparedAs(source.table());
            if (kind.isEmpty()) {
                return new Probed(type.type(), kind, Map.of(), List.of("is not compared, and a comparison says so"));
            }
            for (Method method : METHODS) {
                told.put(method.name().toLowerCase(Locale.ROOT), byMethod(source.table(), target.table(), method));
            }
            told.put("form", form(source.table()));
            told.put("key", asKey());
            told.put("change", change(source.table(), target.table()));
            return new Probed(type.type(), kind, told, notes);
        }

        /** A row for each value that both have, and one for each two values; how many values there are beside NULL. */
        private int fill(TableName source, TableName target) {
            List<String> values = new ArrayList<>(type.values());
            values.add("NULL");
            List<String> taken = new ArrayList<>();
            long id = 0;
            List<List<String>> sources = new ArrayList<>();
            List<List<String>> targets = new ArrayList<>();
            for (String value : values) {
                id++;
                Optional<String> refused = scratch.insert(source, Long.toString(id), value);
                if (refused.isPresent()) {
                    notes.add("can't hold " + value);
                } else {
                    targets.add(List.of(Long.toString(id), value));
                    taken.add(value);
                }
            }
            for (int one = 0; one < taken.size(); one++) {
                for (int other = one + 1; other < taken.size(); other++) {
                    id++;
                    sources.add(List.of(Long.toString(id), taken.get(one)));
                    targets.add(List.of(Long.toString(id), taken.get(other)));
                    differing.put(id, taken.get(one) + " and " + taken.get(other));
                }
            }
            if (!sources.isEmpty()) {
                scratch.insertAll(source, sources);
                scratch.insertAll(target, targets);
            }
            return taken.size() - 1;
        }

        private Optional<String> comparedAs(TableName table) {
            try (Place opened = endpoint.open()) {
                return opened.describe(table.toString())
                        .column("v")
                        .or(() -> opened.describe(table.toString()).column("V"))
                        .flatMap(ColumnShape::type)
                        .map(Object::toString);
            }
        }

        private String byMethod(TableName source, TableName target, Method method) {
            try (ComparisonResult result = compared(scratch, source, target, method, "id")) {
                TableResult table = result.tables().get(0);
                if (table.failure().isPresent()) {
                    boolean refused = table.failure().get().contains("can't compare by method");
                    if (!refused) {
                        notes.add(method + ": " + table.failure().get());
                    }
                    return refused ? ProbeText.NOT_OFFERED : ProbeText.WRONG;
                }
                Set<Long> found = new TreeSet<>();
                List<String> odd = new ArrayList<>();
                try (Stream<RowDifference> all = result.differences()) {
                    all.forEach(difference -> {
                        long id = ((Number) Objects.requireNonNull(
                                        difference.key().values().iterator().next()))
                                .longValue();
                        if (difference.kind() == RowDifference.Kind.CHANGED && differing.containsKey(id)) {
                            found.add(id);
                        } else {
                            odd.add("row " + id + " is told as " + difference.kind());
                        }
                    });
                }
                List<String> lost = differing.entrySet().stream()
                        .filter(pair -> !found.contains(pair.getKey()))
                        .map(pair -> pair.getValue() + " are not told apart")
                        .toList();
                return exact(
                        method.name().toLowerCase(Locale.ROOT),
                        Stream.concat(lost.stream(), odd.stream()).toList());
            } catch (SharpTallyException e) {
                notes.add(method + ": " + e.getMessage());
                return ProbeText.WRONG;
            }
        }

        private String exact(String what, List<String> wrong) {
            wrong.stream().limit(EXAMPLES).forEach(w -> notes.add(what + ": " + w));
            return wrong.isEmpty() ? ProbeText.EXACT : ProbeText.WRONG;
        }

        /** Whether the database's checksum in the common form is the one that is worked out here. */
        private String form(TableName name) {
            try (Place opened = endpoint.open()) {
                TableShape table = opened.describe(name.toString());
                ColumnShape id = table.columns().get(0);
                ColumnShape value = table.columns().get(1);
                CanonicalType canonical = value.type().orElseThrow();
                Cast cast = new Cast(canonical, canonical.kind(), canonical.digits());
                List<Hashed> hashed = List.of(new Hashed(value, canonical.kind(), canonical.digits()));
                SumsRequest request = new SumsRequest(
                        table,
                        hashed,
                        List.of(id),
                        List.of(KeyRange.ALL),
                        OptionalLong.empty(),
                        SumsRequest.Form.COMMON);
                Optional<Checksums> checksums = opened.checksums();
                if (checksums.isEmpty() || checksums.get().problem(request).isPresent()) {
                    return ProbeText.NOT_OFFERED;
                }
                RangeSum there =
                        checksums.get().sums(request).values().stream().reduce(RangeSum.NOTHING, RangeSum::plus);
                RowHash hash = new RowHash();
                long here = 0;
                try (RowSource rows = opened.read(new ReadRequest(table, List.of(value), List.of(id)))) {
                    for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                        Column cells = cast.apply(batch.get().column(0));
                        for (int row = 0; row < batch.get().rows(); row++) {
                            here += hash.of(List.of(cells.value(row)));
                        }
                    }
                }
                if (there.sum() != here && WRITTEN.contains(canonical.kind())) {
                    notes.add(
                            "form: written in a text of its own; ranges of such values may look different from another"
                                    + " engine's, and are read then");
                    return ProbeText.OWN_TEXT;
                }
                return exact(
                        "form",
                        there.sum() == here || there.unhashed() > 0
                                ? List.of()
                                : List.of("the checksum in the common form is another one here"));
            } catch (ToolException e) {
                notes.add("form: " + e.getMessage());
                return ProbeText.WRONG;
            }
        }

        /** A table that has the type as its key: every other row is missing, and nothing else is. */
        private String asKey() {
            Made source = scratch.keyed(name + "c", "v " + type.type(), "n INTEGER");
            Made target = scratch.keyed(name + "d", "v " + type.type(), "n INTEGER");
            if (source.refused().isPresent() || target.refused().isPresent()) {
                return ProbeText.NOT_OFFERED;
            }
            int both = 0;
            int missing = 0;
            for (String value : type.values()) {
                if (scratch.insert(source.table(), value, "1").isPresent()) {
                    // Its equality takes it for another one.
                    continue;
                }
                if ((both + missing) % 2 == 0) {
                    scratch.insert(target.table(), value, "1");
                    both++;
                } else {
                    missing++;
                }
            }
            if (missing == 0) {
                return ProbeText.NOT_OFFERED;
            }
            try (ComparisonResult result = compared(scratch, source.table(), target.table(), Method.AUTO, "v")) {
                TableResult.Rows rows = result.tables().get(0).rows();
                boolean right = rows.same() == both
                        && rows.missing() == missing
                        && rows.changed() + rows.extra() + rows.repeated() == 0;
                return exact(
                        "key", right ? List.of() : List.of(result.text().lines().collect(Collectors.joining(" "))));
            } catch (SharpTallyException e) {
                notes.add("key: " + e.getMessage());
                return e.kind() == SharpTallyException.Kind.USAGE ? ProbeText.NOT_OFFERED : ProbeText.WRONG;
            }
        }

        private String change(TableName source, TableName target) {
            try (ComparisonResult result = compared(scratch, source, target, Method.STREAM, "id")) {
                if (isPartial(target)) {
                    result.applyOneByOne();
                } else {
                    result.apply();
                }
            } catch (SharpTallyException e) {
                notes.add("change: " + e.getMessage());
                return ProbeText.WRONG;
            }
            try (ComparisonResult again = compared(scratch, source, target, Method.STREAM, "id")) {
                return exact(
                        "change",
                        again.verdict() == Verdict.SAME ? List.of() : List.of("what was changed is not the same"));
            }
        }
    }
}
