package sharptally.report.page;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Figures;
import sharptally.report.text.MatchText;

/** What somebody needs who has to judge a run without having seen it: what was compared, how, by whom, and what followed. */
final class Proof {
    private Proof() {}

    /** The run itself: name to value, in order. */
    static List<Map<String, String>> run(RunSummary run) {
        List<Map<String, String>> facts = new ArrayList<>();
        side(facts, "source", run.source());
        side(facts, "target", run.target());
        Instant started = Instant.parse(run.started());
        String ended = started.plus(Duration.ofMillis(Math.round(run.seconds() * 1000)))
                .toString()
                .replaceAll("\\.\\d+Z$", "Z");
        fact(facts, "begun", run.started().replaceAll("\\.\\d+Z$", "Z"));
        fact(facts, run.state() == RunState.COMPLETE ? "completed" : "interrupted", ended);
        run.by().ifPresent(by -> fact(facts, "by", by));
        fact(facts, "with", "sharp-tally " + run.tool());
        run.job().ifPresent(job -> fact(facts, "job file", job));
        run.jobSha256().ifPresent(hash -> fact(facts, "SHA-256 of the job file", hash));
        fact(facts, "rows", run.narrowed().isEmpty() ? "all of the matches below" : String.join("; ", run.narrowed()));
        if (!run.leftOut().isEmpty()) {
            fact(facts, "tables left out on request", String.join(", ", run.leftOut()));
        }
        return facts;
    }

    private static void side(List<Map<String, String>> facts, String side, RunSummary.Database database) {
        if (database.address().isEmpty()) {
            return;
        }
        boolean same = database.name().equals(database.address());
        fact(facts, side, same ? database.name() : database.name() + " = " + database.address());
        fact(facts, side + " is", database.product());
        fact(facts, side + " schema", database.schema());
        database.facts().forEach((name, value) -> fact(facts, side + " " + name, value));
        fact(
                facts,
                side + " read",
                database.snapshot()
                        ? "in one state of the database"
                        : "in more than one state: each table, or part of one, as it was at its own time");
    }

    private static void fact(List<Map<String, String>> facts, String name, String value) {
        if (!value.isBlank()) {
            facts.add(Map.of("name", name, "value", value));
        }
    }

    /** A match: name to value, in order. */
    static List<Map<String, String>> match(MatchSummary summary, TableMatch match) {
        List<Map<String, String>> facts = new ArrayList<>();
        fact(facts, "tables", summary.source() + " compared with " + summary.target());
        fact(facts, "key", summary.key().isEmpty() ? "none: equal rows are counted" : String.join(", ", summary.key()));
        fact(
                facts,
                "columns compared",
                match.pairs().size() + ": "
                        + match.pairs().stream().map(Proof::pair).collect(Collectors.joining(", ")));
        fact(facts, "left out on request", String.join(", ", summary.leftOut()));
        fact(facts, "in the source only", String.join(", ", summary.missingColumns()));
        fact(facts, "in the target only", String.join(", ", summary.extraColumns()));
        fact(facts, "NOT COMPARED", String.join("; ", summary.notCompared()));
        fact(facts, "rules", String.join("; ", MatchText.rules(match)));
        Stream<String> partition = MatchText.partition(match).stream();
        List<String> rows =
                Stream.concat(partition, summary.narrowed().stream()).toList();
        fact(facts, "rows", rows.isEmpty() ? "all" : String.join("; ", rows));
        fact(facts, "method", summary.method());
        if (summary.state() == RunState.COMPLETE) {
            fact(
                    facts,
                    "rows compared",
                    Figures.count(summary.sourceRows()) + " of the source, " + Figures.count(summary.targetRows())
                            + " of the target");
            fact(
                    facts,
                    "findings",
                    Figures.count(summary.lines(), "line") + " in " + summary.findings() + ", SHA-256 "
                            + summary.digest());
        }
        return facts;
    }

    private static String pair(ColumnPair pair) {
        return pair.source().name().equalsIgnoreCase(pair.target().name())
                ? pair.source().name()
                : pair.source().name() + " > " + pair.target().name();
    }

    /** What was done with the run since, the first first; where that can't be trusted, why. */
    static List<Map<String, Object>> followed(RunFolder run) {
        try {
            return new AuditLog(run, Clock.systemUTC())
                    .entries().stream().map(Proof::entry).toList();
        } catch (ToolException e) {
            return List.of(Map.of(
                    "at", "", "by", "", "did", "NOT TO BE TRUSTED", "details", List.of(detail("why", e.getMessage()))));
        }
    }

    private static Map<String, Object> entry(AuditLog.Entry entry) {
        Map<String, Object> shown = new LinkedHashMap<>();
        shown.put("at", entry.at());
        shown.put("by", entry.by());
        shown.put("did", entry.did());
        shown.put(
                "details",
                entry.details().entrySet().stream()
                        .map(d -> detail(d.getKey(), counts(d.getValue())))
                        .toList());
        return shown;
    }

    /** Changes by table, as {@code station: 1 inserts, 2 updates, 0 deletes}. */
    private static String counts(String json) {
        return json.startsWith("{")
                ? json.replaceAll("[{}\"]", "")
                        .replaceAll("(\\w+):(\\d+)", "$2 $1")
                        .replaceAll("[:,](?=\\S)", "$0 ")
                : json;
    }

    private static Map<String, String> detail(String name, Object value) {
        return Map.of("name", name, "value", String.valueOf(value));
    }
}
