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
        description = {"Writes a run as a page, PDF, workbook, Markdown, CSV or JUnit XML."},
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:written", "2:no such run, table or column", "5:can't be written"},
        footer = {"", "Example: sharp-tally report --format html,junit --out-folder reports"})
final class ReportCommand implements Callable<Integer> {
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
                "html, pdf, xlsx, md, csv, junit. Default: html.",
                "html: a page; pdf: for paper and archives; xlsx: a workbook; md: Markdown; csv: a file per table; junit: for build"
                        + " servers."
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
                "At most N findings. Default: page 20000, PDF 2000.",
                "Where there are more, CSV files are written too, and the page or paper says so."
            })
    Optional<Long> limit = Optional.empty();

    @Option(names = "--print-all", description = "Let the page print all its findings, not those in view.")
    boolean printAll;

    @Mixin
    RedactChoice redact = new RedactChoice();

    ReportCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        limit.filter(n -> n < 0).ifPresent(n -> {
            throw new ToolException(ErrorKind.USAGE, "--limit should not be negative", n.toString(), "");
        });
        RunFolder run = choice.open();
        if (choice.run.isEmpty()) {
            Freshness.checkBegun(run, choice.runs, choice.jobFile.isPresent());
        }
        ReportJob job = new ReportJob(run, findings.filter(run), redact.redaction(), limit, printAll);
        List<String> lines = job.write(forms, out.orElse(run.folder())).stream()
                .map(file -> "written  " + file)
                .toList();
        screen.print(List.of(RunChoice.told(run)));
        screen.print(lines);
        return 0;
    }
}
