package sharptally.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.help.Words;
import sharptally.cli.option.FindingChoice;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.NonClosing;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.formats.run.Json;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.SelectionFile;
import sharptally.report.findings.ColumnCauses;
import sharptally.report.findings.ColumnText;
import sharptally.report.findings.FindingList;
import sharptally.report.findings.FindingList.Form;
import sharptally.report.findings.FindingList.Listed;
import sharptally.report.findings.HiddenRun;
import sharptally.report.text.Figures;
import sharptally.report.text.RangeText;
import sharptally.report.text.RunText;
import sharptally.report.text.Style;
import sharptally.report.text.TotalsText;

@Command(
        name = "show",
        description = {
            "Lists the rows that differ, old value beside new.",
            "The key, the column, the source's value beside the target's; or one of the views below."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:listed", "2:no such run, table or column", "5:listed, but the run did not go to its end"},
        footer = {"", "Example: sharp-tally show --table station --kind changed,missing"})
final class ShowCommand implements Callable<Integer> {
    private static final long DEFAULT_LIMIT = 50;

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    FindingChoice findings = new FindingChoice();

    @Option(
            names = "--limit",
            paramLabel = "ROWS",
            description = "So many rows at most; 0: all. Default: 50 as text, else all.")
    long limit = -1;

    @Option(
            names = "--format",
            paramLabel = "FORM",
            defaultValue = "text",
            description = {
                "text, pivot, detail, csv, jsonl. Default: text.",
                "pivot: a line per value; detail: whole values, with what differs in them."
            })
    Form form = Form.TEXT;

    @Option(
            names = "--select",
            paramLabel = "FILE",
            description = {"Write these rows to a selection file.", "For script, apply and recheck."})
    Optional<Path> select = Optional.empty();

    @Option(names = "--overview", description = "The result of the run as compare told it.")
    boolean overview;

    @Option(names = "--by-range", description = "Where rows differ: key ranges that differ.")
    boolean byRange;

    @Option(names = "--by-column", description = "Which columns differ, how often, likely causes.")
    boolean byColumn;

    @Option(names = "--totals", description = "The totals and expectations of the run.")
    boolean totals;

    @Mixin
    RedactChoice redact = new RedactChoice();

    ShowCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.open();
        if (totals || run.matches().isEmpty()) {
            return showTotals(run);
        }
        FindingFilter filter = findings.filter(run);
        if (select.isPresent()) {
            return select(run, filter, select.get());
        }
        if (overview) {
            RunSummary summary = HiddenRun.of(run.summary(), redact.redaction());
            screen.print(RunText.lines(summary, screen.style(), screen.columns()));
            return 0;
        }
        if (byRange) {
            return showRanges(run, filter);
        }
        if (byColumn) {
            return showColumns(run, filter);
        }
        long most = limit > 0 ? limit : limit == 0 || !form.isForPeople() ? Long.MAX_VALUE : DEFAULT_LIMIT;
        Style style = screen.style();
        Listed listed = FindingList.write(
                run,
                filter,
                redact.redaction(),
                new FindingList.Layout(form, most, style, screen.columns()),
                new NonClosing(screen.out()));
        if (form.isForPeople()) {
            footer(run, listed);
        } else if (listed.all() > listed.shown()) {
            screen.say("sharp-tally: " + more(listed));
        }
        if (run.summary().state() == RunState.INCOMPLETE) {
            screen.say("sharp-tally: this run did not go to its end: there may be more differences; compare again");
            return ErrorKind.INCOMPLETE.exitCode();
        }
        return 0;
    }

    private int showColumns(RunFolder run, FindingFilter filter) {
        List<ColumnCauses> columns = redact.redaction().ofColumns(ColumnCauses.of(run, filter));
        if (!form.isForPeople()) {
            CompareCommand.printLines(screen, columns);
        } else if (columns.isEmpty()) {
            screen.print(List.of("no changed row in run " + run.summary().run()));
        } else {
            screen.print(ColumnText.lines(columns, screen.style(), screen.columns()));
        }
        return 0;
    }

    private int showRanges(RunFolder run, FindingFilter filter) {
        if (findings.choosesRows()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "ranges are told of all findings of a table",
                    "show --by-range",
                    "choose with --table alone");
        }
        List<MatchSummary> matches = HiddenRun.of(run.summary(), redact.redaction()).matches().stream()
                .filter(m -> run.matches().stream().anyMatch(t -> t.name().equals(m.name()) && filter.wants(t)))
                .toList();
        if (!form.isForPeople()) {
            CompareCommand.printLines(
                    screen,
                    matches.stream().flatMap(m -> RangeText.ranges(m).stream()).toList());
            return 0;
        }
        List<String> lines = RangeText.lines(matches, screen.style(), screen.columns());
        screen.print(
                lines.isEmpty()
                        ? List.of("no key range differs in run " + run.summary().run())
                        : lines);
        return 0;
    }

    private int showTotals(RunFolder whole) {
        RunSummary run = HiddenRun.of(whole.summary(), redact.redaction());
        if (run.totals().isEmpty() && run.checks().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE, "the run has no totals", whole.folder().toString(), "see sharp-tally totals");
        }
        if (form.isForPeople()) {
            screen.print(TotalsText.lines(run, screen.style(), screen.columns(), true));
            screen.print(List.of(TotalsText.verdict(run, screen.style())));
        } else {
            CompareCommand.printJson(screen, Map.of("totals", run.totals(), "checks", run.checks()), Json.MAPPER);
        }
        return 0;
    }

    private int select(RunFolder run, FindingFilter filter, Path file) {
        long rows = SelectionFile.write(file, run, filter);
        screen.print(List.of(Figures.count(rows, "finding") + " selected in " + file));
        List<String> words = choice.command("script", run);
        words.addAll(new Words()
                .option("--selection", Optional.of(file))
                .joined("--column", findings.columns)
                .list());
        screen.next("the SQL that fixes these alone; lines can be taken out by hand", words);
        return 0;
    }

    private void footer(RunFolder run, Listed listed) {
        if (listed.all() == 0) {
            screen.print(List.of("no differences match in run " + run.summary().run()));
            return;
        }
        screen.print(List.of(""));
        if (listed.all() > listed.shown()) {
            screen.print(List.of(more(listed)));
        } else {
            screen.print(List.of(Figures.count(listed.all(), "finding")));
        }
        List<String> words = choice.command("script", run);
        words.addAll(findings.words());
        screen.next("write the SQL that fixes them", words);
    }

    private static String more(Listed listed) {
        return Figures.count(listed.shown()) + " of " + Figures.count(listed.all(), "finding") + " shown, "
                + Figures.count(listed.all() - listed.shown()) + " more (--limit 0 shows all)";
    }
}
