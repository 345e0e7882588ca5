package sharptally.cli;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingKind;
import sharptally.formats.run.Json;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.report.findings.FindingFilter;
import sharptally.report.findings.FindingList;
import sharptally.report.findings.FindingList.Form;
import sharptally.report.findings.FindingList.Listed;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TotalsText;

@Command(
        name = "show",
        description = "Lists the rows that differ: the key, the column, the source's value beside the target's.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:listed", "2:no such run, table or column", "5:listed, but the run did not go to its end"},
        footer = {"", "Example: sharp-tally show --table station --kind changed,missing"})
final class ShowCommand implements Callable<Integer> {
    private static final long DEFAULT_LIMIT = 50;

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Option(names = "--table", split = ",", paramLabel = "TABLE", description = "Only these tables.")
    Set<String> tables = Set.of();

    @Option(
            names = "--kind",
            split = ",",
            paramLabel = "KIND",
            description = "Only these kinds: ${COMPLETION-CANDIDATES}.")
    Set<FindingKind> kinds = Set.of();

    @Option(
            names = "--column",
            split = ",",
            paramLabel = "COLUMN",
            description = "Only changed rows in which one of these columns differs, and only these columns.")
    Set<String> columns = Set.of();

    @Option(
            names = "--key",
            paramLabel = "KEY",
            description = "Only the row of this key, as it is shown (parts joined by commas). Repeatable.")
    List<String> keys = List.of();

    @Option(
            names = "--limit",
            paramLabel = "ROWS",
            description = "List so many rows at most; 0 for all. Default: " + DEFAULT_LIMIT + " as text, else all.")
    long limit = -1;

    @Option(names = "--format", defaultValue = "text", description = "${COMPLETION-CANDIDATES}. Default: text.")
    Form form = Form.TEXT;

    ShowCommand(Screen screen) {
        this.screen = screen;
    }

    @Option(names = "--totals", description = "Show the totals and expectations that the run worked out.")
    boolean totals;

    @Override
    public Integer call() {
        RunFolder run = choice.open();
        if (totals || run.matches().isEmpty()) {
            return showTotals(run);
        }
        FindingFilter filter = new FindingFilter(tables, kinds, columns, Set.copyOf(keys));
        check(run, filter);
        long most = limit > 0 ? limit : limit == 0 || form != Form.TEXT ? Long.MAX_VALUE : DEFAULT_LIMIT;
        Style style = screen.style();
        Listed listed =
                FindingList.write(run, filter, form, most, style, screen.columns(), new NonClosing(screen.out()));
        if (form == Form.TEXT) {
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

    private int showTotals(RunFolder run) {
        if (run.summary().totals().isEmpty() && run.summary().checks().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE, "the run has no totals", run.folder().toString(), "see sharp-tally totals");
        }
        if (form == Form.TEXT) {
            screen.print(TotalsText.lines(run.summary(), screen.style(), true));
            screen.print(List.of(TotalsText.verdict(run.summary(), screen.style())));
        } else {
            CompareCommand.printJson(
                    screen,
                    Map.of(
                            "totals",
                            run.summary().totals(),
                            "checks",
                            run.summary().checks()),
                    Json.MAPPER);
        }
        return 0;
    }

    private void check(RunFolder run, FindingFilter filter) {
        String known = run.matches().stream().map(m -> m.name()).collect(Collectors.joining(", "));
        tables.stream()
                .filter(t -> run.matches().stream()
                        .noneMatch(m -> new FindingFilter(Set.of(t), Set.of(), Set.of(), Set.of()).wants(m)))
                .findFirst()
                .ifPresent(t -> {
                    throw new ToolException(ErrorKind.USAGE, "no such table in this run", t, "there are: " + known);
                });
        boolean found = run.matches().stream().anyMatch(m -> filter.wants(m) && filter.hasColumn(m));
        if (!found) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no such column among the compared ones",
                    String.join(", ", columns),
                    "see run.json, or sharp-tally survey PLACE#TABLE");
        }
    }

    private void footer(RunFolder run, Listed listed) {
        Style style = screen.style();
        if (listed.all() == 0) {
            screen.print(List.of("no such difference in run " + run.summary().run()));
            return;
        }
        screen.print(List.of(""));
        if (listed.all() > listed.shown()) {
            screen.print(List.of(more(listed)));
        } else {
            screen.print(List.of(Figures.count(listed.all(), "finding")));
        }
        screen.print(List.of(
                "",
                style.paint("next", Meaning.QUIET) + "  "
                        + style.paint("sharp-tally script" + choice.arguments(run), Meaning.COMMAND)
                        + style.paint("    write the SQL that mends them", Meaning.QUIET)));
    }

    private static String more(Listed listed) {
        return Figures.count(listed.shown()) + " of " + Figures.count(listed.all(), "finding") + " shown, "
                + Figures.count(listed.all() - listed.shown()) + " more (--limit 0 shows all)";
    }
}
