package sharptally.cli.option;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.change.TargetChanges;
import sharptally.cli.help.Words;
import sharptally.core.place.Side;
import sharptally.formats.run.RunFolder;

/** What is carried over, and to which side. */
public final class MendChoice {
    @Mixin
    FindingChoice findings = new FindingChoice();

    @Option(
            names = "--fix",
            paramLabel = "SIDE",
            defaultValue = "target",
            description = {"The side to change: source, target. Default: target.", "It becomes like the other."})
    Side toward = Side.TARGET;

    @Option(names = "--allow-old-run", description = "Accept a run of more than seven days ago.")
    boolean olderIsFine;

    @Option(names = "--with-parents", description = "Also insert missing rows that chosen ones refer to.")
    boolean withParents;

    /** The options that choose the same, for a run that may be old by then. */
    public List<String> words() {
        return new Words()
                .add(findings.words())
                .option("--fix", Optional.of(toward).filter(side -> side == Side.SOURCE))
                .flag("--allow-old-run", olderIsFine)
                .flag("--with-parents", withParents)
                .list();
    }

    /** Whether accepted differences are carried over as well, where they are chosen by what else is. */
    public boolean takesAccepted() {
        return findings.takesAccepted();
    }

    public TargetChanges of(RunFolder run) {
        return TargetChanges.of(run, findings.filter(run), toward, withParents, olderIsFine, Clock.systemUTC());
    }
}
