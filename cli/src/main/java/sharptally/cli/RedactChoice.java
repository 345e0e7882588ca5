package sharptally.cli;

import picocli.CommandLine.Option;
import sharptally.report.findings.Redaction;

/** Whether values are hidden in what a command prints or sends. */
final class RedactChoice {
    @Option(
            names = "--redact",
            description = {
                "Hide values: tell length and a mark of each.",
                "Keys too. Equal values of one output share a mark."
            })
    boolean redact;

    Redaction redaction() {
        return redact ? Redaction.hiding() : Redaction.none();
    }
}
