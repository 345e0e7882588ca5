package sharptally.api;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.Spliterator;
import java.util.Spliterators;
import java.util.function.Consumer;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import sharptally.api.job.JobRequest;
import sharptally.api.job.ReportJob;
import sharptally.api.job.change.ApplyJob;
import sharptally.api.job.change.RecheckJob;
import sharptally.api.job.change.ScriptJob;
import sharptally.api.job.change.TargetChanges;
import sharptally.core.compare.Progress;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.TableFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Side;
import sharptally.core.script.write.ScriptForm;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.formats.run.RunFolder;
import sharptally.report.findings.Redaction;
import sharptally.report.text.RunText;
import sharptally.report.text.Style;

/** What a comparison found, and what can be done about it. Used by one thread; to be closed. */
public final class ComparisonResult implements AutoCloseable {
    private static final int TEXT_COLUMNS = 160;
    private static final long ROWS_ON_PAGE = 20_000;

    private final SharpTally tally;
    private final Optional<Path> temporary;
    private final JobRequest request;
    private RunFolder run;

    ComparisonResult(SharpTally tally, RunFolder run, Optional<Path> temporary, JobRequest request) {
        this.tally = tally;
        this.run = run;
        this.temporary = temporary;
        this.request = request;
    }

    static ComparisonResult kept(SharpTally tally, Path folder, Database source, Database target) {
        return new ComparisonResult(
                tally,
                RunFolder.open(folder),
                Optional.empty(),
                JobInput.of(tally, source, target).request());
    }

    public Verdict verdict() {
        int code = run.summary().exitCode();
        if (code == 0) {
            return run.summary().differences() == 0 ? Verdict.SAME : Verdict.ACCEPTED;
        }
        return code == 1 ? Verdict.DIFFERENT : Verdict.INCOMPLETE;
    }

    /** One of each pair of tables. */
    public List<TableResult> tables() {
        return run.summary().matches().stream().map(TableResult::of).toList();
    }

    /** How many rows and keys differ, of all tables, accepted or not. */
    public long differenceCount() {
        return run.summary().differences();
    }

    /** Tables that only one side has, which make a comparison {@link Verdict#DIFFERENT}. */
    public List<String> tablesOnOneSide() {
        return run.summary().lone().stream()
                .map(lone -> lone.table() + " (" + lone.side() + ")")
                .toList();
    }

    /** The result as the command line prints it. */
    public String text() {
        return String.join("\n", RunText.lines(run.summary(), Style.PLAIN, TEXT_COLUMNS, false));
    }

    /** Where the result is kept; empty where it goes when it is closed. */
    public Optional<Path> runFolder() {
        return temporary.isPresent() ? Optional.empty() : Optional.of(run.folder());
    }

    /** All rows that differ, table by table in the order of keys, read as they are asked for; to be closed. */
    public Stream<RowDifference> differences() {
        return run.matches().stream()
                .filter(match -> run.summaryOf(match).isPresent())
                .flatMap(this::differences);
    }

    private Stream<RowDifference> differences(TableMatch match) {
        RunFolder.Findings findings = SharpTallyException.told(() -> run.findings(match));
        var each = new Spliterators.AbstractSpliterator<RowDifference>(Long.MAX_VALUE, Spliterator.ORDERED) {
            @Override
            public boolean tryAdvance(Consumer<? super RowDifference> action) {
                Optional<Finding> next = SharpTallyException.told(findings::next);
                next.ifPresent(finding -> action.accept(RowDifference.of(match, finding)));
                return next.isPresent();
            }
        };
        return StreamSupport.stream(each, false).onClose(findings::close);
    }

    /**
     * Writes a script that makes the target like the source, and beside it one that takes it back.
     *
     * @param file ends in {@code .sql}
     * @param tables names of tables of which changes are wanted; none for all
     */
    public Script script(Path file, String... tables) {
        return Work.done(interrupted -> {
            ScriptJob.Written written =
                    new ScriptJob(changes(tables), file, Optional.empty(), ScriptForm.of(ScriptForm.Style.ROW)).write();
            return new Script(
                    written.script(), written.undo(), written.counts().all(), written.warnings(), written.howToRun());
        });
    }

    /**
     * Makes the target like the source, in one transaction and only where each row still holds what was compared.
     *
     * @param tables names of tables of which changes are wanted; none for all
     * @throws SharpTallyException of kind {@code REFUSED} when a row had changed since, or the database refuses a change;
     *     nothing was changed then
     */
    public Applied apply(String... tables) {
        return apply(false, ScriptSafeguards.NONE, tables);
    }

    /**
     * The same for tables without transactions, which {@link #apply} refuses: each change by itself. What was done before a
     * failure stays, and the failure says how much that is.
     */
    public Applied applyOneByOne(String... tables) {
        return apply(false, ScriptSafeguards.PARTIAL, tables);
    }

    /** The same, but all is taken back at the end. */
    public Applied tryChanges(String... tables) {
        return apply(true, ScriptSafeguards.NONE, tables);
    }

    private Applied apply(boolean dryRun, ScriptSafeguards caution, String... tables) {
        return Work.done(interrupted -> {
            ApplyJob job = new ApplyJob(
                    changes(tables),
                    request.target(),
                    new ApplyJob.Settings(dryRun, OptionalLong.empty(), false, caution));
            long rows = job.counts().all() == 0 ? 0 : job.apply(done -> {});
            return new Applied(rows, !dryRun, job.undo(), job.warnings());
        });
    }

    private TargetChanges changes(String... tables) {
        FindingFilter filter = FindingFilter.of(new TableFilter(
                Arrays.stream(tables).map(Glob::new).toList(),
                List.of(),
                run.summary().schemas()));
        filter.check(run.matches());
        return TargetChanges.of(
                run, filter, Side.TARGET, false, true, tally.context().clock());
    }

    /** Looks again at the rows that differed, and only at those; the result tells then what still differs. */
    public Rechecked recheck() {
        return Work.done(interrupted -> {
            RecheckJob.Rechecked found = new RecheckJob(
                            run, FindingFilter.ALL, request.source(), request.target(), true, tally.context())
                    .run(1, Duration.ZERO, (match, rows) -> new Unwatched(), interrupted);
            run = found.run();
            return new Rechecked(
                    found.matches().stream()
                            .mapToLong(RecheckJob.OfMatch::noLongerDifferent)
                            .sum(),
                    found.left());
        });
    }

    /** Nobody follows. */
    private static final class Unwatched implements sharptally.api.job.CompareJob.Watch {
        @Override
        public void rows(long source, long target) {
            Progress.NONE.rows(source, target);
        }

        @Override
        public void close() {
            // nothing is held
        }
    }

    /**
     * Writes reports.
     *
     * @return the files that were written
     */
    public List<Path> report(Path folder, ReportForm first, ReportForm... more) {
        return Work.done(interrupted -> {
            Set<ReportJob.Form> forms = EnumSet.of(ReportJob.Form.valueOf(first.name()));
            Arrays.stream(more).map(f -> ReportJob.Form.valueOf(f.name())).forEach(forms::add);
            return new ReportJob(run, FindingFilter.ALL, Redaction.none(), Optional.of(ROWS_ON_PAGE), false)
                    .write(forms, folder);
        });
    }

    /** Removes what was kept for the time being; connections of the caller's were given back long before. */
    @Override
    public void close() {
        temporary.ifPresent(Folders::remove);
    }
}
