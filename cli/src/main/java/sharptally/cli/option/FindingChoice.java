package sharptally.cli.option;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.help.Words;
import sharptally.core.accept.Acceptances;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.Marked;
import sharptally.core.finding.ValueCondition;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.SelectionFile;

/** Which findings of a run a command works on. */
public final class FindingChoice {
    @Mixin
    TableChoice tables = new TableChoice();

    @Option(names = "--kind", split = ",", paramLabel = "KIND", description = "Only these: ${COMPLETION-CANDIDATES}.")
    Set<FindingKind> kinds = Set.of();

    @Option(
            names = "--column",
            split = ",",
            paramLabel = "COLUMN",
            description = {"Only where one of these columns differs.", "Of changed rows, only these columns then."})
    public Set<String> columns = Set.of();

    @Option(
            names = "--row",
            paramLabel = "KEY",
            description = {"Only the row with this key, as shown. Repeatable.", "Parts of a key joined by commas."})
    List<String> keys = List.of();

    @Option(names = "--key-range", paramLabel = "FROM..TO", description = "Key range: FROM inclusive, TO exclusive.")
    Optional<String> range = Optional.empty();

    @Option(
            names = "--if",
            paramLabel = "CONDITION",
            description = {
                "Only rows of which a value meets this. Repeatable.",
                "Such as 'level_m > 5', 'source.remark ~ gauge*', 'target.remark is null'; all must be met."
            })
    List<String> conditions = List.of();

    @Option(
            names = "--selection",
            paramLabel = "FILE",
            description = "Only the rows in this file (show --save-selection).")
    public Optional<Path> selection = Optional.empty();

    @Option(names = "--with-accepted", description = "Also what is accepted for now (default: not).")
    boolean withAccepted;

    @Option(names = "--only-accepted", description = "Only what is accepted for now.")
    boolean onlyAccepted;

    /** Whether accepted differences are chosen as well; rows that were chosen one by one are, accepted or not. */
    public boolean takesAccepted() {
        return withAccepted || onlyAccepted || !keys.isEmpty() || selection.isPresent();
    }

    /** Whether it chooses anything. */
    public boolean isAny() {
        return choosesRows() || !tables.isEmpty();
    }

    /** Whether it chooses among the findings of a table. */
    public boolean choosesRows() {
        return !(kinds.isEmpty()
                && columns.isEmpty()
                && keys.isEmpty()
                && range.isEmpty()
                && conditions.isEmpty()
                && selection.isEmpty()
                && !onlyAccepted);
    }

    /** The options that choose the same. */
    public List<String> words() {
        return new Words()
                .add(tables.words())
                .joined("--kind", kinds)
                .joined("--column", columns)
                .each("--row", keys)
                .option("--key-range", range)
                .each("--if", conditions)
                .option("--selection", selection)
                .flag("--with-accepted", withAccepted)
                .flag("--only-accepted", onlyAccepted)
                .list();
    }

    /**
     * @throws sharptally.core.fault.ToolException when it asks for what the run does not have
     */
    public FindingFilter filter(RunFolder run) {
        FindingFilter filter = new FindingFilter(
                tables.of(run),
                kinds,
                columns,
                Set.copyOf(keys),
                range,
                conditions.stream().map(ValueCondition::parse).toList(),
                marked(run));
        filter.check(run.matches());
        return filter;
    }

    private List<Marked> marked(RunFolder run) {
        if (withAccepted && onlyAccepted) {
            throw new ToolException(
                    ErrorKind.USAGE, "not both", "--with-accepted --only-accepted", "leave one of them out");
        }
        List<Marked> marked = new ArrayList<>();
        selection.ifPresent(file -> marked.add(SelectionFile.read(file, run)));
        if (keys.isEmpty() && selection.isEmpty()) {
            run.movingFile()
                    .map(file -> SelectionFile.read(file, run))
                    .ifPresent(moving -> marked.add((match, finding) -> !moving.holds(match, finding)));
        }
        Acceptances accepted = run.accepted();
        if (onlyAccepted && accepted.all().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "nothing was accepted in this run",
                    "--only-accepted",
                    "compare with a file of accepted differences; see docs/accepted.md");
        }
        if (onlyAccepted) {
            marked.add(accepted);
        } else if (!takesAccepted() && !accepted.all().isEmpty()) {
            marked.add((match, finding) -> !accepted.holds(match, finding));
        }
        return marked;
    }
}
