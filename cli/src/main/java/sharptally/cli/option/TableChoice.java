package sharptally.cli.option;

import java.util.List;
import picocli.CommandLine.Option;
import sharptally.cli.help.Words;
import sharptally.core.finding.TableFilter;
import sharptally.core.match.text.Glob;
import sharptally.formats.run.RunFolder;

/** Which tables a command works on: the same options in all of them. */
public final class TableChoice {
    @Option(
            names = "--table",
            split = ",",
            paramLabel = "TABLE",
            description = {
                "Only these tables; * any letters. Repeatable.",
                "By the name of the match or of a table of either side; with a dot, schema and name."
            })
    public List<String> tables = List.of();

    @Option(
            names = "--leave-out-table",
            split = ",",
            paramLabel = "TABLE",
            description = "Not these tables; * any letters. Repeatable.")
    public List<String> leftOut = List.of();

    public boolean isEmpty() {
        return tables.isEmpty() && leftOut.isEmpty();
    }

    /** The options that choose the same. */
    List<String> words() {
        return new Words()
                .joined("--table", tables)
                .joined("--leave-out-table", leftOut)
                .list();
    }

    public List<Glob> wanted() {
        return globs(tables);
    }

    public List<Glob> notWanted() {
        return globs(leftOut);
    }

    private static List<Glob> globs(List<String> names) {
        return names.stream().map(Glob::new).toList();
    }

    /** The tables of a run. */
    public TableFilter of(RunFolder run) {
        return new TableFilter(wanted(), notWanted(), run.summary().schemas());
    }
}
