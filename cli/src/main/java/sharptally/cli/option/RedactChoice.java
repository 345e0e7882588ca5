package sharptally.cli.option;

import picocli.CommandLine.Option;
import sharptally.report.findings.Redaction;

/** Whether values are hidden in what a command prints or sends. */
public final class RedactChoice {
    @Option(
            names = "--redact",
            description = {
                "Hide values: show length and a hash instead.",
                "Keys too. Equal values of one output share a mark."
            })
    public boolean redact;

    public Redaction redaction() {
        return redact ? Redaction.hiding() : Redaction.none();
    }
}
