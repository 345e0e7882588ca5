package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.TreeMap;
import sharptally.core.checksum.Cutting;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Method;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.run.RangeRunner;
import sharptally.core.compare.run.RangeTask;
import sharptally.core.compare.stream.OutOfOrder;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.range.KeyRange;
import sharptally.engines.Engines;
import sharptally.formats.run.Json;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;

/** The ranges of a run's match as tasks: written down, read back, run in any order, and added up. */
final class Ranges {
    private Ranges() {}

    private static Place open(Database database, Path folder) {
        String text = database.address();
        int colon = text.indexOf(':');
        Address address = Address.parse(
                text.contains("//") ? text : text.substring(0, colon + 1) + folder.resolve(text.substring(colon + 1)));
        return Engines.of(address).open(PlaceAccess.of(address));
    }

    /**
     * Compares every range by itself and compares the sum with what the run found.
     *
     * @return how many ranges there were; 0 where the key can't be cut
     */
    static int addUpTo(RunFolder run, Database source, Database target, Path folder, Random random) throws Exception {
        TableMatch match = run.matches().get(0);
        List<RangeTask> tasks;
        try (Place from = open(source, folder);
                Place to = open(target, folder)) {
            if (new Eligibility(match, from, to).rangeProblem().isPresent()) {
                return 0;
            }
            tasks = tasks(match, from, to, random);
        }
        TreeMap<Integer, List<Finding>> findings = new TreeMap<>();
        TreeMap<Integer, RangeResult> results = new TreeMap<>();
        Collections.shuffle(tasks, random);
        for (RangeTask task : tasks) {
            RangeTask sent = Json.MAPPER.readValue(Json.line(task), RangeTask.class);
            assertThat(sent).isEqualTo(task);
            Kept kept = new Kept();
            try (Place from = open(source, folder);
                    Place to = open(target, folder)) {
                RangeResult result =
                        new RangeRunner(new Pair(from, to), ComparisonContext.quiet(folder)).run(sent, kept);
                RangeResult back = Json.MAPPER.readValue(Json.line(result), RangeResult.class);
                assertThat(back).isEqualTo(result);
                results.put(sent.number(), back);
            } catch (OutOfOrder e) {
                return 0;
            }
            findings.put(sent.number(), kept.findings);
        }
        List<Finding> expected = new ArrayList<>();
        run.forEach(match, expected::add);
        assertThat(findings.values().stream().flatMap(List::stream).toList()).isEqualTo(expected);
        Counts all = results.values().stream()
                .map(RangeResult::counts)
                .reduce(Counts::plus)
                .orElseThrow();
        MatchSummary summary = run.summary().matches().get(0);
        assertThat(List.of(all.sourceRows(), all.targetRows(), all.same()))
                .isEqualTo(List.of(summary.sourceRows(), summary.targetRows(), summary.same()));
        return results.size();
    }

    private static List<RangeTask> tasks(TableMatch match, Place from, Place to, Random random) {
        Eligibility can = new Eligibility(match, from, to);
        List<Method> methods = new ArrayList<>(List.of(Method.STREAM));
        if (can.checksumProblem().isEmpty()) {
            methods.add(Method.CHECKSUM);
        }
        if (can.joinProblem().isEmpty()) {
            methods.add(Method.JOINED);
        }
        List<KeyRange> ranges = new Cutting(
                        match.source(),
                        match.keyPairs().stream().map(ColumnPair::source).toList(),
                        from)
                .cut(KeyRange.ALL, 30 + random.nextInt(100), OptionalLong.empty());
        List<RangeTask> tasks = new ArrayList<>();
        for (KeyRange range : ranges) {
            Method method = methods.get(random.nextInt(methods.size()));
            tasks.add(new RangeTask(match, tasks.size(), range, 60, method, Optional.empty()));
        }
        return tasks;
    }

    private static final class Kept implements FindingSink {
        private final List<Finding> findings = new ArrayList<>();

        @Override
        public void accept(Finding finding) {
            findings.add(finding);
        }

        @Override
        public void restart() {
            findings.clear();
        }
    }
}
