package sharptally.cli;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.change.ApplyJob;
import sharptally.api.job.change.RecheckJob;
import sharptally.api.job.change.RewriteJob;
import sharptally.api.job.change.TargetChanges;
import sharptally.api.job.keep.Freshness;
import sharptally.cli.file.FileChanges;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.MendChoice;
import sharptally.cli.option.QuietChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.option.SafeguardChoice;
import sharptally.cli.screen.Input;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.ProgressBars;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Side;
import sharptally.core.script.ChangeCounts;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Figures;

@Command(
        name = "apply",
        description = {
            "Applies the fixes to the target, in one transaction.",
            "It becomes like the source; then the changed rows are looked at again."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:done, and nothing of the run differs any more",
            "1:done, and something still differs",
            "2:no such run, or nothing like what was asked for in it",
            "3:the target can't be reached, or the connection broke and not all was done",
            "4:refused or not confirmed; the message says what was done",
            "5:not looked at again to the end"
        },
        footer = {"", "Example: sharp-tally apply --table station --kind missing,changed --yes"})
final class ApplyCommand implements Callable<Integer> {
    private final Screen all;
    /** Prints no result where it is printed in another form at the end. */
    private Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    MendChoice mend = new MendChoice();

    @Option(names = "--yes", description = "Make the changes without asking.")
    boolean yes;

    @Option(names = "--dry-run", description = "Make all changes, then roll them back.")
    boolean dryRun;

    @Option(
            names = "--allow-no-undo",
            description = {
                "Go on where the undo would be refused.",
                "Up to 10,000 changes are made and taken back by their undo first, unless triggers would run: a target may hold"
                        + " rows that its own constraints do not let in again."
            })
    boolean allowNoUndo;

    @Option(
            names = "--commit-every",
            paramLabel = "N",
            description = "Commit after each N changes, not once at the end.")
    Optional<Long> commitEvery = Optional.empty();

    @Option(
            names = "--to",
            paramLabel = "DATABASE",
            description = {
                "Change this database instead. Repeatable.",
                "It should be like the one that was compared; each is done by itself."
            })
    List<String> targets = List.of();

    @Mixin
    SafeguardChoice caution = new SafeguardChoice();

    @Mixin
    FormatChoice format = new FormatChoice();

    @Mixin
    QuietChoice quiet = new QuietChoice();

    /** What became of each database, as JSON. */
    private final List<Applied> applied = new ArrayList<>();

    /**
     * One database that was to be changed.
     *
     * @param done rows that were changed
     * @param committed whether they stay so
     * @param undo the script that takes them back; empty where there is none
     * @param left rows of the run that still differ; empty where that was not looked at
     * @param accepted rows that still differ, are accepted for now and were not chosen
     */
    record Applied(
            String database,
            ChangeCounts planned,
            long done,
            boolean committed,
            Optional<String> undo,
            OptionalLong left,
            long accepted,
            List<String> warnings) {}

    /** The same, as JSON. */
    record Result(String folder, List<Applied> applied) {}

    ApplyCommand(Screen screen) {
        this.all = screen;
        this.screen = screen;
    }

    @Override
    public Integer call() {
        quiet.check("apply", format.isJson(), "--format json");
        if (quiet.quiet || format.isJson()) {
            screen = quiet.of(all).withoutResult();
        }
        commitEvery.filter(n -> n < 1).ifPresent(n -> {
            throw new ToolException(ErrorKind.USAGE, "--commit-every should be 1 or more, not " + n, "apply", "");
        });
        if (commitEvery.isPresent() && caution.noTriggers) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "triggers can be kept from running only within one transaction, which puts them back if it fails",
                    "apply --commit-every --no-triggers",
                    "give one of both");
        }
        if (yes && choice.run.isEmpty() && choice.jobFile.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "--yes wants the run named: which one is the latest may have changed",
                    "apply --yes",
                    "give the run's folder, or --job");
        }
        RunFolder run = choice.openComparison();
        if (!dryRun) {
            Path beside = choice.run
                    .map(r -> r.toAbsolutePath().normalize().getParent())
                    .orElse(choice.runs);
            Freshness.check(run, beside, choice.run.isPresent() || choice.jobFile.isPresent());
        }
        screen.print(List.of(RunChoice.told(run)));
        TargetChanges mending = mend.of(run);
        if (mending.isOfFiles()) {
            return writeFile(run, mending);
        }
        List<String> places = targets.isEmpty() ? List.of(mending.place()) : targets;
        int code = 0;
        for (String place : places) {
            Connections known = Connections.ofUser();
            Endpoint access = targets.isEmpty() ? known.resolveOfFile(place) : known.resolve(place);
            try {
                code = Math.max(code, apply(run, mending, access, place));
            } catch (ToolException e) {
                // What was done to the others by then stays done, and is told in any form.
                applied.forEach(one -> all.say("sharp-tally: " + verdict(one)));
                throw e;
            }
        }
        if (format.isJson()) {
            return JsonResult.done(all, "apply", code, new Result(run.folder().toString(), applied));
        }
        if (quiet.quiet) {
            applied.forEach(one -> all.print(List.of(verdict(one))));
        }
        return code;
    }

    private Integer writeFile(RunFolder run, TargetChanges mending) {
        if (!targets.isEmpty()
                || commitEvery.isPresent()
                || dryRun
                || !caution.words().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a file is written anew beside the old one, which stays: nothing of this is for it",
                    mending.place() + " (--to, --commit-every, --dry-run, safeguards)",
                    "leave it out; script writes the new file elsewhere");
        }
        FileChanges files = new FileChanges(
                screen,
                mending,
                new RewriteJob(mending, Connections.ofUser().resolveOfFile(mending.place())),
                other -> left(
                        RecheckCommand.look(screen, run, FindingFilter.ALL, Optional.of(other), 1, Duration.ZERO)));
        screen.print(List.of(mending.toward() + "  " + mending.place(), ""));
        files.outlook();
        FileChanges.Result result = files.write(files.job().beside(), true);
        if (format.isJson()) {
            return JsonResult.done(all, "apply", result.code(), result);
        }
        all.print(List.of("", FileChanges.verdict(result)));
        return result.code();
    }

    private static String verdict(Applied one) {
        String what = one.done() == 0 && !one.committed()
                ? "nothing was changed"
                : Figures.count(one.done(), "change")
                        + (one.committed()
                                ? " made and committed"
                                : " made and taken back: a dry run, so nothing was changed");
        return one.database() + ": " + what
                + (one.left().isEmpty()
                        ? ""
                        : one.left().getAsLong() == 0
                                ? "; nothing of the run differs any more"
                                        + (one.accepted() == 0
                                                ? ""
                                                : " but for " + Figures.count(one.accepted()) + " accepted")
                                : "; " + Figures.count(one.left().getAsLong(), "row") + " of the run still differ");
    }

    private void tell(String place, ApplyJob job, long done, boolean committed, OptionalLong left, long accepted) {
        applied.add(new Applied(
                place, job.counts(), done, committed, job.undo().map(Path::toString), left, accepted, job.warnings()));
    }

    private int apply(RunFolder run, TargetChanges mending, Endpoint target, String place) {
        ApplyJob job = new ApplyJob(
                mending,
                target,
                new ApplyJob.Settings(
                        dryRun,
                        commitEvery.map(OptionalLong::of).orElse(OptionalLong.empty()),
                        allowNoUndo,
                        dryRun ? caution.choice().withoutKeeping() : caution.choice()));
        ChangeCounts counts = job.counts();
        screen.print(List.of(mending.toward() + "  " + place, ""));
        screen.print(ChangeText.lines(counts, screen.style()));
        mending.leftOut().ifPresent(left -> screen.print(List.of(left)));
        job.warnings().forEach(warning -> screen.say("sharp-tally: warning: " + warning));
        if (counts.all() == 0) {
            tell(place, job, 0, false, OptionalLong.empty(), 0);
            return run.summary().exitCode();
        }
        if (!yes && !dryRun) {
            confirm(job);
        }
        long rows;
        try {
            try (ProgressBars.Counter bar = ProgressBars.counter(screen, "changes", counts.all())) {
                rows = job.apply(bar::to);
            }
            job.reached()
                    .ifPresent(told -> screen.say(
                            "sharp-tally: warning: by the database itself: " + told + "; no undo brings them back"));
            job.unrecorded()
                    .ifPresent(
                            why -> screen.say("sharp-tally: warning: what was done is not in the run's audit: " + why));
            if (dryRun) {
                screen.print(List.of(
                        "", Figures.count(rows, "change") + " made and taken back: a dry run, so nothing was changed"));
                tell(place, job, rows, false, OptionalLong.empty(), 0);
                return 1;
            }
            screen.print(List.of("", Figures.count(rows, "change") + " made and committed"));
            job.undo()
                    .ifPresent(undo -> screen.print(
                            List.of("undo    " + undo + (job.isUndoTried() ? "" : "   (not tried beforehand)"))));
            screen.print(List.of("looking at these rows again", ""));
        } catch (ToolException e) {
            if (job.wasStopped() && isDone(run, mending, target)) {
                screen.print(List.of("", "already done: nothing differs there any more, so nothing was changed"));
                tell(place, job, 0, false, OptionalLong.of(0), 0);
                return 0;
            }
            if (!job.isOutcomeOpen()) {
                throw e;
            }
            screen.say("sharp-tally: " + e.getMessage() + "; looking whether the changes were made");
            Optional<RecheckJob.Rechecked> found = lookAgain(run, mending, target);
            if (found.filter(f -> left(f) == 0).isPresent()) {
                tell(place, job, counts.all(), true, OptionalLong.of(0), accepted(found));
                return code(found.get());
            }
            throw new ToolException(
                    ErrorKind.BROKEN,
                    "the commit was not confirmed, and "
                            + found.map(f -> "not all was done: " + Figures.count(left(f), "key") + " still differ")
                                    .orElse("the rows there can't be looked at again"),
                    e.where(),
                    "look whether the server still works at it, then recheck",
                    e);
        }
        Optional<RecheckJob.Rechecked> found = lookAgain(run, mending, target);
        tell(
                place,
                job,
                rows,
                true,
                found.map(f -> OptionalLong.of(left(f))).orElse(OptionalLong.empty()),
                accepted(found));
        return found.map(this::code).orElse(0);
    }

    /** Whether a target that took none of the changes holds all of them already, as after a script of the same run. */
    private boolean isDone(RunFolder run, TargetChanges mending, Endpoint target) {
        if (dryRun || mending.toward() == Side.SOURCE) {
            return false;
        }
        screen.print(List.of("", "a change was refused; looking how these rows are now", ""));
        try {
            return RecheckCommand.look(screen, run, FindingFilter.ALL, Optional.of(target), 1, Duration.ZERO)
                            .left()
                    == 0;
        } catch (ToolException e) {
            // Why the change was refused matters more.
            screen.say("sharp-tally: they can't be looked at: " + e.getMessage());
            return false;
        }
    }

    /** Rows that should not differ any more and do: accepted ones only where they were chosen too. */
    private long left(RecheckJob.Rechecked found) {
        return mend.takesAccepted() ? found.left() : found.open();
    }

    private long accepted(Optional<RecheckJob.Rechecked> found) {
        return found.map(f -> f.left() - left(f)).orElse(0L);
    }

    private int code(RecheckJob.Rechecked found) {
        return left(found) > 0 ? 1 : targets.isEmpty() ? found.run().summary().exitCode() : 0;
    }

    /** How the rows are now; empty for another source than the one that was compared, which is not looked at. */
    private Optional<RecheckJob.Rechecked> lookAgain(RunFolder run, TargetChanges mending, Endpoint target) {
        boolean other = !targets.isEmpty();
        if (other && mending.toward() == Side.SOURCE) {
            return Optional.empty();
        }
        return Optional.of(RecheckCommand.look(
                screen, run, FindingFilter.ALL, other ? Optional.of(target) : Optional.empty(), 1, Duration.ZERO));
    }

    private void confirm(ApplyJob job) {
        screen.err().print("type the name of what is changed, " + job.targetName() + ", to go on: ");
        screen.err().flush();
        Optional<String> answer = Input.line();
        if (answer.isEmpty() || !answer.get().strip().equals(job.targetName())) {
            screen.say("");
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "not confirmed, so nothing was changed",
                    job.targetName(),
                    "type the name, or give --yes");
        }
    }
}
