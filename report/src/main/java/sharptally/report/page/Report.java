package sharptally.report.page;

import com.fasterxml.jackson.databind.JsonNode;
import freemarker.template.Configuration;
import freemarker.template.TemplateException;
import freemarker.template.TemplateExceptionHandler;
import java.io.IOException;
import java.io.InputStream;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import sharptally.core.finding.FindingFilter;
import sharptally.core.place.Side;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.types.Value;
import sharptally.formats.common.CommonFile;
import sharptally.formats.run.Json;
import sharptally.formats.run.LoneSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RuleSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.ColumnCauses;
import sharptally.report.findings.CommonText;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.PageRows;
import sharptally.report.findings.Redaction;
import sharptally.report.text.Figures;
import sharptally.report.text.RunText;
import sharptally.report.text.Style;
import sharptally.report.text.TextWidth;
import sharptally.report.text.TotalsText;
import sharptally.report.text.VerdictText;

/** A run as a page of one file that asks for nothing outside, as Markdown, or as JUnit XML. */
public final class Report {
    private static final int CELLS = 60;
    private static final int COLUMNS = 4;
    private static final int LETTERS_ON_PAPER = 300;
    private static final int TEXT_COLUMNS = 160;
    private static final double[] SHARES = {0, 0.001, 0.01, 0.05, 0.15, 0.4, 0.8};

    /** The forms of a report; each has a template. */
    public enum Form {
        HTML("report.html", "page.ftlh"),
        MD("report.md", "report.ftl"),
        JUNIT("report.xml", "junit.ftlx"),
        /** The page for paper, which is made a PDF. */
        PAPER("report.xhtml", "paper.ftlh");

        private final String file;
        private final String template;

        Form(String file, String template) {
            this.file = file;
            this.template = template;
        }

        /** The name of such a report's file. */
        public String file() {
            return file;
        }
    }

    private final RunFolder run;
    private final RunSummary summary;
    private final FindingFilter filter;
    private final Redaction redaction;
    private final long rows;
    private final boolean printAll;
    private final List<RunSummary> earlier;

    /**
     * @param rows findings to put on the page at most
     * @param printAll whether the page prints all findings that are on it, not those that are seen
     * @param earlier runs of the same job file or places, this one last
     */
    public Report(
            RunFolder run,
            FindingFilter filter,
            Redaction redaction,
            long rows,
            boolean printAll,
            List<RunSummary> earlier) {
        this.printAll = printAll;
        this.run = run;
        this.summary = HiddenRun.of(run.summary(), redaction);
        this.filter = filter;
        this.redaction = redaction;
        this.rows = rows;
        this.earlier = List.copyOf(earlier);
    }

    /**
     * @return how many findings are on the page, and how many there are; none in other forms
     */
    public PageRows write(Form form, Writer out) throws IOException {
        PageRows found = form == Form.HTML || form == Form.PAPER
                ? PageRows.of(run, filter, redaction, rows)
                : new PageRows("[]", 0, 0);
        Map<String, Object> model = model();
        model.put("rows", found.json());
        model.put("shown", Figures.count(found.shown()));
        model.put("all", Figures.count(found.all()));
        model.put("capped", found.shown() < found.all());
        if (form == Form.PAPER) {
            model.put("rest", Figures.count(found.all() - found.shown()));
            model.put("findings", findings(found));
        }
        if (form == Form.HTML) {
            model.put("style", resource("page.css"));
            model.put("script", resource("page.js"));
        }
        try {
            configuration()
                    .getTemplate(form.template)
                    .process(model, form == Form.JUNIT || form == Form.PAPER ? new XmlWriter(out) : out);
        } catch (TemplateException e) {
            throw new IllegalStateException("a report's template does not fit what is in it", e);
        }
        return found;
    }

    /** The findings as a template reads them; a row without a column to tell of has an empty one. */
    private List<Map<String, Object>> findings(PageRows found) throws IOException {
        List<Map<String, Object>> findings = new ArrayList<>();
        for (JsonNode row : Json.MAPPER.readTree(found.json())) {
            List<Map<String, String>> columns = new ArrayList<>();
            row.get(COLUMNS)
                    .forEach(c -> columns.add(Map.of(
                            "name",
                            TextWidth.harmless(c.get(0).asText()),
                            "source",
                            TextWidth.cut(c.get(1).asText(), LETTERS_ON_PAPER),
                            "target",
                            TextWidth.cut(c.get(2).asText(), LETTERS_ON_PAPER))));
            if (columns.isEmpty()) {
                columns.add(Map.of("name", "", "source", "", "target", ""));
            }
            findings.add(Map.of(
                    "table",
                    TextWidth.harmless(run.matches().get(row.get(0).asInt()).name()),
                    "kind",
                    row.get(1).asText(),
                    "key",
                    TextWidth.harmless(row.get(2).asText()),
                    "columns",
                    columns));
        }
        return findings;
    }

    private static Configuration configuration() {
        Configuration configuration = new Configuration(Configuration.VERSION_2_3_33);
        configuration.setClassForTemplateLoading(Report.class, "");
        configuration.setDefaultEncoding(StandardCharsets.UTF_8.name());
        configuration.setTemplateExceptionHandler(TemplateExceptionHandler.RETHROW_HANDLER);
        configuration.setLogTemplateExceptions(false);
        configuration.setLocale(Locale.ROOT);
        configuration.setNumberFormat("computer");
        return configuration;
    }

    private static String resource(String name) throws IOException {
        try (InputStream in = Report.class.getResourceAsStream(name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    private Map<String, Object> model() {
        Map<String, Object> model = new LinkedHashMap<>();
        List<String> verdict = VerdictText.lines(summary);
        model.put("verdict", verdict.get(verdict.size() - 1));
        model.put("state", state(summary.exitCode()));
        model.put("sign", sign(summary.exitCode(), summary.differences()));
        model.put("run", summary.run());
        model.put("started", summary.started().replaceAll("\\.\\d+Z$", "Z"));
        model.put("seconds", Figures.seconds(summary.seconds()));
        model.put("time", summary.seconds());
        model.put("tool", summary.tool());
        model.put("job", summary.job().orElse(""));
        model.put("source", summary.source().name());
        model.put("sourceProduct", summary.source().product());
        model.put("target", summary.target().name());
        model.put("targetProduct", summary.target().product());
        model.put("redacted", redaction.isHiding());
        model.put("proof", Proof.run(summary));
        model.put("followed", Proof.followed(run));
        model.put("printAll", printAll);
        List<ColumnCauses> causes = redaction.ofColumns(ColumnCauses.of(run, filter));
        model.put(
                "tables",
                summary.matches().stream()
                        .map(match -> {
                            Map<String, Object> table = table(match, causes);
                            table.put(
                                    "proof",
                                    run.matches().stream()
                                            .filter(m -> m.name().equals(match.name()))
                                            .findFirst()
                                            .map(m -> Proof.match(match, m))
                                            .orElse(List.of()));
                            return table;
                        })
                        .toList());
        model.put("lone", summary.lone().stream().map(Report::lone).toList());
        model.put("columns", columns(causes));
        model.put("common", redaction.isHiding() ? List.of() : CommonText.model(CommonFile.read(run)));
        model.put("anyRepeated", summary.matches().stream().anyMatch(m -> m.repeated() > 0));
        model.put("notes", RunText.notes(summary));
        model.put("rules", rules(summary));
        model.put("unmet", unmet(summary));
        model.put("declared", declared(summary));
        model.put("accepted", accepted(summary));
        model.put("acceptedRows", Figures.count(summary.acceptedRows()));
        model.put(
                "totals",
                String.join("\n", TotalsText.lines(summary, Style.PLAIN, TEXT_COLUMNS, true))
                        .strip());
        model.put("history", history());
        return model;
    }

    private static String state(int exitCode) {
        return exitCode == 0 ? "same" : exitCode == 1 ? "different" : "unproved";
    }

    private static String sign(int exitCode, long differences) {
        return exitCode == 0 ? differences == 0 ? "=" : "≈" : exitCode == 1 ? "≠" : "?";
    }

    private static Map<String, Object> table(MatchSummary match, List<ColumnCauses> causes) {
        Map<String, Object> table = new LinkedHashMap<>();
        table.put("name", match.name());
        boolean alike = match.partitionOf().orElse(match.name()).equalsIgnoreCase(match.target());
        table.put("target", alike ? match.name() : match.target());
        table.put("state", state(match.exitCode()));
        table.put("word", VerdictText.word(match));
        table.put("sign", sign(match.exitCode(), match.differences()));
        table.put("finished", match.state() == RunState.COMPLETE);
        table.put("sourceRows", Figures.count(match.sourceRows()));
        table.put("targetRows", Figures.count(match.targetRows()));
        table.put("same", Figures.count(match.same()));
        Map<String, Long> kinds = new LinkedHashMap<>();
        kinds.put("changed", match.changed());
        kinds.put("missing", match.missing());
        kinds.put("extra", match.extra());
        kinds.put("repeated", match.repeated());
        List<Map<String, Object>> parts = new ArrayList<>();
        long all = match.changed() + match.missing() + match.extra() + match.repeated();
        kinds.forEach((kind, count) -> {
            table.put(kind, Figures.count(count));
            if (count > 0) {
                parts.add(Map.of("kind", kind, "count", Figures.count(count), "share", percent(count, all)));
            }
        });
        table.put("parts", parts);
        table.put("differences", all);
        table.put("missingColumns", match.missingColumns());
        table.put("extraColumns", match.extraColumns());
        table.put("share", Figures.share(all, Math.max(1, match.same() + all)));
        table.put("why", why(match, causes));
        table.put("method", match.method());
        table.put("seconds", Figures.seconds(match.seconds()));
        table.put("time", match.seconds());
        table.put("failure", match.failure().orElse(""));
        table.put("strip", strip(match.damage()));
        return table;
    }

    /** What a reader should know first: the likely causes, and rows that one side lacks. */
    private static List<String> why(MatchSummary match, List<ColumnCauses> causes) {
        List<String> why = new ArrayList<>(causes.stream()
                .filter(c -> c.table().equals(match.name()) && !c.causes().isEmpty())
                .limit(2)
                .map(c -> c.column() + ": " + c.causes().get(0).words())
                .toList());
        if (match.missing() > 0) {
            why.add(Figures.count(match.missing(), "row") + " missing");
        }
        if (match.extra() > 0) {
            why.add(Figures.count(match.extra(), "row") + " extra");
        }
        if (!match.missingColumns().isEmpty()) {
            why.add("missing column: " + String.join(", ", match.missingColumns()));
        }
        if (!match.extraColumns().isEmpty()) {
            why.add("extra column: " + String.join(", ", match.extraColumns()));
        }
        return why;
    }

    private static Map<String, Object> lone(LoneSummary lone) {
        String rows = lone.rows() < 0 ? "?" : (lone.about() ? "about " : "") + Figures.count(lone.rows());
        boolean ofSource = lone.side() == Side.SOURCE;
        return Map.of(
                "name",
                lone.table(),
                "word",
                lone.word(),
                "state",
                lone.untold().isPresent() ? "unproved" : "different",
                "sourceRows",
                ofSource ? rows : "",
                "targetRows",
                ofSource ? "" : rows,
                "rows",
                rows,
                "side",
                lone.side().toString(),
                "untold",
                lone.untold().orElse(""));
    }

    private static String percent(long part, long whole) {
        return String.format(Locale.ROOT, "%.2f", 100.0 * part / Math.max(1, whole));
    }

    private static Map<String, Object> strip(List<DifferenceHistogram.Cell> damage) {
        if (damage.stream().noneMatch(c -> c.differing() > 0)) {
            return Map.of("cells", List.of(), "from", "", "to", "");
        }
        List<DifferenceHistogram.Cell> cells = DifferenceHistogram.drawn(damage, CELLS);
        List<Map<String, Object>> shown = cells.stream()
                .map(c -> Map.<String, Object>of(
                        "level",
                        level(c),
                        "from",
                        key(c.from()),
                        "rows",
                        Figures.count(c.rows()),
                        "differing",
                        Figures.count(c.differing())))
                .toList();
        return Map.of("cells", shown, "from", key(cells.get(0).from()), "to", key(DifferenceHistogram.last(damage)));
    }

    private static int level(DifferenceHistogram.Cell cell) {
        if (cell.differing() == 0) {
            return 0;
        }
        double share = (double) cell.differing() / cell.rows();
        int level = 1;
        while (level < SHARES.length && share >= SHARES[level]) {
            level++;
        }
        return level;
    }

    private static String key(List<Value> key) {
        String text = String.join(",", key.stream().map(Value::toString).toList());
        return TextWidth.harmless(text.isEmpty() ? "start" : text);
    }

    private static List<Map<String, Object>> columns(List<ColumnCauses> causes) {
        return causes.stream()
                .map(c -> {
                    Map<String, Object> column = new LinkedHashMap<>();
                    column.put("table", c.table());
                    column.put("column", c.column());
                    column.put("rows", Figures.count(c.rows()));
                    column.put("share", Figures.share(c.rows(), c.changed()));
                    column.put("width", percent(c.rows(), c.changed()));
                    column.put(
                            "causes",
                            c.causes().stream()
                                    .limit(3)
                                    .map(cause -> cause.shown(c.rows()))
                                    .toList());
                    column.put("key", c.key());
                    column.put("source", TextWidth.cut(c.source(), 80));
                    column.put("target", TextWidth.cut(c.target(), 80));
                    return column;
                })
                .toList();
    }

    private static List<Map<String, Object>> unmet(RunSummary summary) {
        return summary.unmet().stream()
                .map(u -> Map.<String, Object>of(
                        "table", u.table(),
                        "side", u.side().toString(),
                        "rows", Figures.count(u.rows()),
                        "what", u.what(),
                        "examples", String.join("; ", u.examples()),
                        "mend", u.mend().orElse("")))
                .toList();
    }

    private static List<Map<String, Object>> declared(RunSummary summary) {
        return summary.declaredOtherwise().stream()
                .map(d -> Map.<String, Object>of(
                        "table", d.table(),
                        "what", d.what(),
                        "source", d.source().isEmpty() ? "-" : d.source(),
                        "target", d.target().isEmpty() ? "-" : d.target(),
                        "meaning", d.meaning()))
                .toList();
    }

    private static List<Map<String, Object>> accepted(RunSummary summary) {
        return summary.accepted().stream()
                .map(a -> Map.<String, Object>of(
                        "table", a.table(),
                        "rows", Figures.count(a.rows()),
                        "what", a.what(),
                        "reason", a.reason(),
                        "owner", a.owner(),
                        "until", a.until(),
                        "state", a.state().toString(),
                        "used", a.state() == RunSummary.AcceptedState.USED))
                .toList();
    }

    private static List<String> rules(RunSummary summary) {
        List<String> rules = new ArrayList<>();
        for (MatchSummary match : summary.matches()) {
            for (RuleSummary rule : match.sameByRule()) {
                rules.add(match.name() + "." + rule.column() + ": " + Figures.count(rule.rows(), "value")
                        + " the same only by rule " + rule.rule());
            }
        }
        return rules;
    }

    /** Earlier runs for a chart, the latest last; none where this is the only one. */
    private List<Map<String, Object>> history() {
        if (earlier.size() < 2) {
            return List.of();
        }
        long most = Math.max(
                1, earlier.stream().mapToLong(RunSummary::differences).max().orElse(1));
        return earlier.stream()
                .map(r -> Map.<String, Object>of(
                        "run",
                        r.run(),
                        "state",
                        state(r.exitCode()),
                        "differences",
                        Figures.count(r.differences()),
                        "height",
                        percent(r.differences(), most)))
                .toList();
    }
}
