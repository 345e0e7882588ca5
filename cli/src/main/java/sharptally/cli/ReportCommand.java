package sharptally.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.ReportJob;
import sharptally.api.job.ReportJob.Form;
import sharptally.api.job.keep.Freshness;
import sharptally.cli.option.FindingChoice;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;

@Command(
        name = "report",
        description = {"Writes a run as a page, as Markdown, CSV or JUnit XML."},
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:written", "2:no such run, table or column", "5:can't be written"},
        footer = {"", "Example: sharp-tally report --format html,junit --out-folder reports"})
final class ReportCommand implements Callable<Integer> {
    private static final long DEFAULT_ROWS = 20_000;

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    FindingChoice findings = new FindingChoice();

    @Option(
            names = "--format",
            split = ",",
            paramLabel = "FORM",
            description = {
                "html, md, csv, junit. Default: html.",
                "html: a page; md: Markdown; csv: a file per table; junit: for build servers."
            })
    Set<Form> forms = Set.of(Form.HTML);

    @Option(
            names = "--out-folder",
            paramLabel = "FOLDER",
            description = "Where to write it. Default: the run's folder.")
    Optional<Path> out = Optional.empty();

    @Option(
            names = "--limit",
            paramLabel = "N",
            description = {
                "At most N findings on the page. Default: 20000.",
                "Where there are more, CSV files are written too."
            })
    long rows = DEFAULT_ROWS;

    @Mixin
    RedactChoice redact = new RedactChoice();

    ReportCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (rows < 0) {
            throw new ToolException(ErrorKind.USAGE, "--limit should not be negative", Long.toString(rows), "");
        }
        RunFolder run = choice.open();
        if (choice.run.isEmpty()) {
            Freshness.checkBegun(run, choice.runs, choice.jobFile.isPresent());
        }
        ReportJob job = new ReportJob(run, findings.filter(run), redact.redaction(), rows);
        List<String> lines = job.write(forms, out.orElse(run.folder())).stream()
                .map(file -> "written  " + file)
                .toList();
        screen.print(lines);
        return 0;
    }
}
