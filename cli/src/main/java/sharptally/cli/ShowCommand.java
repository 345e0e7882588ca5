package sharptally.cli;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.CommonJob;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.JobRequest;
import sharptally.api.job.ParquetOut;
import sharptally.api.job.change.TargetChanges;
import sharptally.cli.help.Words;
import sharptally.cli.option.AcceptChoice;
import sharptally.cli.option.FindingChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.NonClosing;
import sharptally.cli.screen.ProgressBars;
import sharptally.cli.screen.Screen;
import sharptally.core.common.CommonRows;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.formats.common.CommonFile;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.SelectionFile;
import sharptally.report.findings.ColumnCauses;
import sharptally.report.findings.ColumnText;
import sharptally.report.findings.CommonText;
import sharptally.report.findings.FindingList;
import sharptally.report.findings.FindingList.Listed;
import sharptally.report.findings.HiddenRun;
import sharptally.report.text.Figures;
import sharptally.report.text.RangeText;
import sharptally.report.text.RunText;
import sharptally.report.text.TotalsText;

@Command(
        name = "show",
        description = {
            "Lists the rows that differ, old value beside new.",
            "The key, the column, the source's value beside the target's; or one of the views below."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:listed",
            "2:no such run, table or column",
            "3:a database can't be read (view common)",
            "4:refused: not all keys were compared (view common)",
            "5:listed, but the run was not completed"
        },
        footer = {"", "Example: sharp-tally show --table station --kind changed,missing"})
final class ShowCommand implements Callable<Integer> {
    private static final long DEFAULT_LIMIT = 50;

    /** What of a run is shown. */
    enum View {
        ROWS(Form.TEXT, Form.JSON, Form.JSONL, Form.CSV, Form.PARQUET),
        VALUES(Form.TEXT),
        DETAIL(Form.TEXT),
        COLUMNS(Form.TEXT, Form.JSON, Form.JSONL),
        COMMON(Form.TEXT, Form.JSON, Form.JSONL),
        RANGES(Form.TEXT, Form.JSON, Form.JSONL),
        TOTALS(Form.TEXT, Form.JSON),
        RESULT(Form.TEXT, Form.JSON);

        private final List<Form> forms;

        View(Form... forms) {
            this.forms = List.of(forms);
        }

        boolean listsRows() {
            return this == ROWS || this == VALUES || this == DETAIL;
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** In which form it is shown. */
    enum Form {
        TEXT,
        JSON,
        JSONL,
        CSV,
        PARQUET;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    FindingChoice findings = new FindingChoice();

    @Option(
            names = "--view",
            paramLabel = "VIEW",
            description = {
                "${COMPLETION-CANDIDATES}. Default: rows.",
                "values: a line per value; detail: whole values, with what differs in them; columns: which columns differ, how"
                        + " often, likely causes; common: what rows that differ have in common and others have not, for which both"
                        + " sides are read; ranges: key ranges that differ; totals: totals and expectations; result: what"
                        + " compare printed."
            })
    Optional<View> wanted = Optional.empty();

    @Option(
            names = "--limit",
            paramLabel = "N",
            description = "At most N findings; 0: all. Default: 50 as text, else all.")
    Optional<Long> limit = Optional.empty();

    @Option(
            names = "--format",
            paramLabel = "FORM",
            defaultValue = "text",
            description = {
                "text, json, jsonl, csv. Default: text.",
                "json: one object with the exit code; jsonl: one object a line; csv: rows alone."
            })
    Form form = Form.TEXT;

    @Option(
            names = "--save-selection",
            paramLabel = "FILE",
            description = {"Write these rows to a selection file.", "For script, apply and recheck."})
    Optional<Path> select = Optional.empty();

    @Mixin
    AcceptChoice acceptance = new AcceptChoice();

    @Option(names = "--all", description = "List what is the same, too, however much it is.")
    boolean all;

    @Mixin
    RedactChoice redact = new RedactChoice();

    ShowCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.open();
        View view = wanted.orElse(run.matches().isEmpty() ? View.TOTALS : View.ROWS);
        check(view);
        return switch (view) {
            case TOTALS -> showTotals(run);
            case RESULT -> showResult(run);
            case RANGES -> showRanges(run, findings.filter(run));
            case COLUMNS -> showColumns(run, findings.filter(run));
            case COMMON -> showCommon(run, findings.filter(run));
            case ROWS, VALUES, DETAIL ->
                acceptance.file.isPresent()
                        ? accept(run)
                        : select.isPresent()
                                ? select(run, findings.filter(run), select.get())
                                : showRows(run, view, findings.filter(run));
        };
    }

    /** What means nothing together is refused. */
    private void check(View view) {
        if (!view.forms.contains(form)) {
            throw usage(
                    "the view " + view + " has no form " + form,
                    "--format is one of "
                            + view.forms.stream().map(Form::toString).collect(Collectors.joining(", ")) + " there");
        }
        if (limit.isPresent() && !view.listsRows()) {
            throw usage("--limit goes with views of rows, not with " + view, "leave it out");
        }
        limit.filter(n -> n < 0).ifPresent(n -> {
            throw usage("--limit should not be negative: " + n, "0 shows all");
        });
        if (all && view != View.RESULT && view != View.TOTALS) {
            throw usage("--all goes with the views result and totals, not with " + view, "--limit 0 lists all rows");
        }
        if (select.isPresent() && (view != View.ROWS || form != Form.TEXT || limit.isPresent())) {
            throw usage(
                    "--save-selection writes all the rows that are chosen, and shows none",
                    "leave out --view, --format and --limit");
        }
        acceptance.check();
        if (acceptance.file.isPresent()
                && (view != View.ROWS || form != Form.TEXT || limit.isPresent() || select.isPresent())) {
            throw usage(
                    "--accept-into writes what is chosen, and shows none",
                    "leave out --view, --format, --limit and --save-selection");
        }
        if ((view == View.TOTALS || view == View.RESULT) && findings.isAny()) {
            throw usage("--view " + view + " is of the whole run", "choose rows with the other views");
        }
    }

    private static ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, "show", mend);
    }

    private int showResult(RunFolder run) {
        RunSummary summary = HiddenRun.of(run.summary(), redact.redaction());
        if (form == Form.JSON) {
            return JsonResult.done(screen, "show", 0, new CompareCommand.Result(run, summary));
        }
        screen.print(RunText.lines(summary, screen.style(), screen.columns(), all));
        return 0;
    }

    private int showRows(RunFolder run, View view, FindingFilter filter) {
        boolean incomplete = run.summary().state() == RunState.INCOMPLETE;
        int code = incomplete ? ErrorKind.INCOMPLETE.exitCode() : 0;
        boolean text = form == Form.TEXT;
        long most = limit.filter(n -> n > 0).orElse(limit.isPresent() || !text ? Long.MAX_VALUE : DEFAULT_LIMIT);
        FindingList.Layout layout = new FindingList.Layout(listForm(view), most, screen.style(), screen.columns());
        Listed[] listed = new Listed[1];
        if (form == Form.JSON) {
            JsonResult.list(
                    screen,
                    "show",
                    code,
                    "findings",
                    out -> listed[0] = FindingList.write(run, filter, redact.redaction(), layout, out));
        } else if (form == Form.PARQUET) {
            if (screen.terminal()) {
                throw usage("a Parquet file is not for a terminal", "send it to a file: > findings.parquet");
            }
            listed[0] = ParquetOut.write(
                    FindingList.COLUMNS,
                    out -> FindingList.write(run, filter, redact.redaction(), layout, out),
                    new NonClosing(screen.out()));
        } else {
            listed[0] = FindingList.write(run, filter, redact.redaction(), layout, new NonClosing(screen.out()));
        }
        if (text) {
            footer(run, listed[0]);
        } else if (listed[0].all() > listed[0].shown()) {
            screen.say("sharp-tally: " + more(listed[0]));
        }
        if (incomplete) {
            screen.say("sharp-tally: this run was not completed: there may be more differences; compare again");
        }
        return code;
    }

    private FindingList.Form listForm(View view) {
        return switch (form) {
            case CSV, PARQUET -> FindingList.Form.CSV;
            case JSON, JSONL -> FindingList.Form.JSONL;
            case TEXT ->
                switch (view) {
                    case VALUES -> FindingList.Form.VALUES;
                    case DETAIL -> FindingList.Form.DETAIL;
                    default -> FindingList.Form.ROWS;
                };
        };
    }

    private int showColumns(RunFolder run, FindingFilter filter) {
        List<ColumnCauses> columns = redact.redaction().ofColumns(ColumnCauses.of(run, filter));
        if (form == Form.JSONL) {
            JsonResult.lines(screen, columns);
        } else if (form == Form.JSON) {
            JsonResult.done(screen, "show", 0, Map.of("columns", columns));
        } else if (columns.isEmpty()) {
            screen.print(List.of("no changed row in run " + run.summary().run()));
        } else {
            screen.print(ColumnText.lines(columns, screen.style(), screen.columns()));
        }
        return 0;
    }

    private int showCommon(RunFolder run, FindingFilter filter) {
        if (findings.choosesRows()) {
            throw usage("what rows have in common is told of all findings of a table", "choose with --table alone");
        }
        if (redact.redaction().isHiding()) {
            throw usage("what rows have in common is told by their values", "leave out --redact");
        }
        JobRequest places = JobChoice.wishOf(CompareRequest.jobFileOf(run));
        List<CommonRows> common = new CommonJob(run, filter, places.source(), places.target())
                .find(ProgressBars.watcher(screen, 1), Interrupt::asked);
        try {
            CommonFile.write(run, common);
        } catch (ToolException e) {
            screen.say("sharp-tally: not kept for a report: " + e.where());
        }
        boolean incomplete = run.summary().state() == RunState.INCOMPLETE;
        int code = incomplete ? ErrorKind.INCOMPLETE.exitCode() : 0;
        if (incomplete) {
            screen.say(
                    "sharp-tally: this run was not completed: nothing is told of tables that were not compared to their end");
        }
        if (form == Form.TEXT) {
            screen.print(
                    common.isEmpty()
                            ? List.of("in run " + run.summary().run()
                                    + ", too few rows differ to have anything in common")
                            : CommonText.lines(common, screen.style(), screen.columns()));
            return code;
        }
        List<Map<String, Object>> told = common.stream().map(ShowCommand::told).toList();
        if (form == Form.JSONL) {
            JsonResult.lines(screen, told);
            return code;
        }
        return JsonResult.done(screen, "show", code, Map.of("common", told));
    }

    private static Map<String, Object> told(CommonRows of) {
        Map<String, Object> told = new LinkedHashMap<>();
        told.put("match", of.match());
        told.put("kind", of.kind().word());
        of.column().ifPresent(column -> told.put("column", column));
        told.put("rows", of.rows());
        told.put("sampled", of.sampled());
        told.put(
                "common",
                of.common().stream()
                        .map(c -> {
                            Map<String, Object> each = new LinkedHashMap<>();
                            each.put("words", c.words());
                            each.put("differing", c.differing());
                            each.put("ofDiffering", c.ofDiffering());
                            each.put("same", c.same());
                            each.put("ofSame", c.ofSame());
                            return each;
                        })
                        .toList());
        return told;
    }

    private int showRanges(RunFolder run, FindingFilter filter) {
        if (findings.choosesRows()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "ranges are told of all findings of a table",
                    "show --view ranges",
                    "choose with --table alone");
        }
        List<MatchSummary> matches = HiddenRun.of(run.summary(), redact.redaction()).matches().stream()
                .filter(m -> run.matches().stream().anyMatch(t -> t.name().equals(m.name()) && filter.wants(t)))
                .toList();
        var ranges = matches.stream().flatMap(m -> RangeText.ranges(m).stream()).toList();
        if (form == Form.JSONL) {
            JsonResult.lines(screen, ranges);
            return 0;
        }
        if (form == Form.JSON) {
            return JsonResult.done(screen, "show", 0, Map.of("ranges", ranges));
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
        if (form == Form.JSON) {
            return JsonResult.done(screen, "show", 0, Map.of("totals", run.totals(), "checks", run.checks()));
        }
        screen.print(TotalsText.lines(run, screen.style(), screen.columns(), true));
        screen.print(List.of(TotalsText.verdict(run, screen.style())));
        return 0;
    }

    private int accept(RunFolder run) {
        AcceptChoice.Added added = acceptance.add(run, findings);
        Path file = acceptance.file.orElseThrow();
        screen.print(List.of(Figures.count(added.accepted(), "finding") + " accepted in " + file
                + (added.left() > 0
                        ? "; " + Figures.count(added.left(), "other") + " not: more differs in their rows"
                        : "")));
        Optional<String> job = run.summary().job();
        screen.next(
                "compare, and count them apart"
                        + (job.isPresent() ? "; or name the file in the job file, as accepted" : ""),
                new Words()
                        .add(List.of("compare"))
                        .option(
                                "--job",
                                job.or(() -> Optional.of(
                                        CompareRequest.jobFileOf(run).toString())))
                        .add(RunChoice.of(choice.folderOf(run)))
                        .option("--accepted", Optional.of(file))
                        .list());
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
            screen.print(List.of("no differences match in run " + run.summary().run() + hiddenAccepted(run)));
            return;
        }
        screen.print(List.of(""));
        if (listed.all() > listed.shown()) {
            screen.print(List.of(more(listed) + hiddenAccepted(run)));
        } else {
            screen.print(List.of(Figures.count(listed.all(), "finding") + " in run "
                    + run.summary().run() + hiddenAccepted(run)));
        }
        if (TargetChanges.isTargetUnion(run)) {
            screen.next("make a run of each part, which can be fixed", choice.command("split", run));
            return;
        }
        if (!TargetChanges.isTargetFixable(run)) {
            return;
        }
        List<String> words = choice.command("script", run);
        words.addAll(findings.words());
        screen.next(
                TargetChanges.isTargetOfFiles(run)
                        ? "write a new file in which they are fixed"
                        : "write the SQL that fixes them",
                words);
    }

    /** What is not listed because it is accepted. */
    private String hiddenAccepted(RunFolder run) {
        long accepted = run.summary().acceptedRows();
        String moving = run.movingFile()
                .filter(file -> findings.selection.isEmpty())
                .map(file ->
                        "; " + Figures.count(run.summary().movingKeys()) + " kept changing (--selection " + file + ")")
                .orElse("");
        return moving
                + (accepted == 0 || findings.takesAccepted()
                        ? ""
                        : "; the run has " + Figures.count(accepted) + " accepted besides (--with-accepted)");
    }

    private static String more(Listed listed) {
        return Figures.count(listed.shown()) + " of " + Figures.count(listed.all(), "finding") + " shown, "
                + Figures.count(listed.all() - listed.shown()) + " more (--limit 0 shows all)";
    }
}
