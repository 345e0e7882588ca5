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
            description =
                    "The side that is changed, so that it becomes like the other: ${COMPLETION-CANDIDATES}. Default:"
                            + " ${DEFAULT-VALUE}.")
    Side toward = Side.TARGET;

    @Option(names = "--older-than-ok", description = "Take a run that is more than seven days old.")
    boolean olderIsFine;

    @Option(names = "--with-parents", description = "Also the missing rows that chosen rows refer to by a foreign key.")
    boolean withParents;

    Mending of(RunFolder run) {
        return Mending.of(run, findings.filter(run), toward, withParents, olderIsFine);
    }
}
