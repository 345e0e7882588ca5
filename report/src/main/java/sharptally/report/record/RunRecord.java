package sharptally.report.record;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.ToLongFunction;
import sharptally.core.sql.SqlText;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsLine;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RuleSummary;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;

/**
 * A run as rows to be added to the record.
 *
 * @param id tells this recording apart from all others
 */
public record RunRecord(RunSummary run, String id) {
    private static final Optional<Long> NONE = Optional.empty();

    /** A run that failed before anything was compared: its state is {@code failed}, and it has no name. */
    public static SqlText failed(String id, String at, String tool, int exitCode) {
        LocalDateTime when =
                LocalDateTime.ofInstant(Instant.parse(at), ZoneOffset.UTC).truncatedTo(ChronoUnit.MILLIS);
        return RecordTable.TALLY_RUN.insertion(List.of(
                id, "", when, 0.0, tool, "failed", exitCode, "", "", "", "", "", "", "", 0, NONE, NONE, NONE, NONE,
                NONE, NONE));
    }

    /** Hands on a statement per row. */
    public void statements(Consumer<SqlText> sink) {
        LocalDateTime started = LocalDateTime.ofInstant(Instant.parse(run.started()), ZoneOffset.UTC)
                .truncatedTo(ChronoUnit.MILLIS);
        sink.accept(RecordTable.TALLY_RUN.insertion(List.of(
                id,
                run.run(),
                started,
                run.seconds(),
                run.tool(),
                run.state().word(),
                run.exitCode(),
                run.by(),
                run.job(),
                String.join("; ", run.narrowed()),
                run.source().name(),
                run.source().product(),
                run.target().name(),
                run.target().product(),
                run.matches().size(),
                sum(MatchSummary::same),
                sum(MatchSummary::changed),
                sum(MatchSummary::missing),
                sum(MatchSummary::extra),
                sum(MatchSummary::repeated),
                run.totals().stream().mapToLong(TotalsResult::differing).sum())));
        run.matches().forEach(match -> {
            sink.accept(match(match, started));
            columns(match, started, sink);
        });
        run.totals().forEach(totals -> totals.lines().forEach(line -> sink.accept(total(totals, line, started))));
        run.checks().forEach(check -> sink.accept(check(check, started)));
    }

    /** NULL where not all was compared: a part of it would be taken for the whole. */
    private Optional<Long> sum(ToLongFunction<MatchSummary> part) {
        return run.state() == RunState.COMPLETE
                ? Optional.of(run.matches().stream().mapToLong(part).sum())
                : NONE;
    }

    private static Optional<Long> of(MatchSummary match, long count) {
        return match.state() == RunState.COMPLETE ? Optional.of(count) : NONE;
    }

    private SqlText match(MatchSummary match, LocalDateTime started) {
        return RecordTable.TALLY_MATCH.insertion(List.of(
                id,
                started,
                match.name(),
                match.source(),
                match.target(),
                match.state().word(),
                String.join("; ", match.narrowed()),
                match.method(),
                match.seconds(),
                of(match, match.sourceRows()),
                of(match, match.targetRows()),
                of(match, match.same()),
                of(match, match.changed()),
                of(match, match.missing()),
                of(match, match.extra()),
                of(match, match.repeated()),
                match.exitCode(),
                match.failure()));
    }

    private void columns(MatchSummary match, LocalDateTime started, Consumer<SqlText> sink) {
        Map<String, Long> differing = new TreeMap<>();
        Map<String, Long> byRule = new TreeMap<>();
        Map<String, List<String>> rules = new TreeMap<>();
        for (ColumnSummary column : match.differing()) {
            differing.put(column.column(), column.rows());
        }
        for (RuleSummary rule : match.sameByRule()) {
            byRule.merge(rule.column(), rule.rows(), Long::sum);
            rules.computeIfAbsent(rule.column(), c -> new ArrayList<>()).add(rule.rule());
        }
        var names = new TreeSet<>(differing.keySet());
        names.addAll(byRule.keySet());
        for (String name : names) {
            sink.accept(RecordTable.TALLY_COLUMN.insertion(List.of(
                    id,
                    started,
                    match.name(),
                    name,
                    differing.getOrDefault(name, 0L),
                    byRule.getOrDefault(name, 0L),
                    Optional.ofNullable(rules.get(name)).map(r -> String.join(", ", r)))));
        }
    }

    private SqlText total(TotalsResult totals, TotalsLine line, LocalDateTime started) {
        return RecordTable.TALLY_TOTAL.insertion(List.of(
                id,
                started,
                totals.match(),
                line.group().isEmpty() ? Optional.empty() : String.join(", ", line.group()),
                line.figure(),
                line.source(),
                line.target(),
                number(line.source()),
                number(line.target()),
                line.held() ? 1 : 0));
    }

    private static Optional<Double> number(Optional<String> figure) {
        try {
            return figure.map(Double::valueOf).filter(Double::isFinite);
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    private SqlText check(CheckResult check, LocalDateTime started) {
        return RecordTable.TALLY_CHECK.insertion(List.of(
                id, started, check.side(), check.table(), check.expected(), check.found(), check.held() ? 1 : 0));
    }
}
