package sharptally.cli.option;

import java.util.List;
import picocli.CommandLine.Option;
import sharptally.cli.help.Words;
import sharptally.core.match.text.Glob;

/** Which tables of a run a command works on. */
public final class TableChoice {
    @Option(
            names = {"--table", "--only"},
            split = ",",
            paramLabel = "TABLE",
            description = "Only these tables; * stands for any letters.")
    List<String> tables = List.of();

    /** The options that choose the same. */
    List<String> words() {
        return new Words().joined("--table", tables).list();
    }

    public List<Glob> globs() {
        return tables.stream().map(Glob::new).toList();
    }
}
