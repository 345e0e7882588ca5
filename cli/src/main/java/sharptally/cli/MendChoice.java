package sharptally.cli;

import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.job.Mending;
import sharptally.core.place.Side;
import sharptally.formats.run.RunFolder;

/** What is carried over, and to which side. */
final class MendChoice {
    @Mixin
    FindingChoice findings = new FindingChoice();

    @Option(
            names = "--toward",
            paramLabel = "SIDE",
            defaultValue = "target",
            description = {"The side to change: source, target. Default: target.", "It becomes like the other."})
    Side toward = Side.TARGET;

    @Option(names = "--older-than-ok", description = "Take a run that is more than seven days old.")
    boolean olderIsFine;

    @Option(names = "--with-parents", description = "Also missing rows that chosen ones refer to.")
    boolean withParents;

    Mending of(RunFolder run) {
        return Mending.of(run, findings.filter(run), toward, withParents, olderIsFine);
    }
}
