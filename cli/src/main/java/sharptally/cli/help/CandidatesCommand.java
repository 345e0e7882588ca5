package sharptally.cli.help;

import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.cli.option.Connections;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;

/** {@code candidates}, which shells ask while a command is typed: names that can stand there, one a line. */
@Command(name = "candidates", hidden = true, description = "What a shell completes with.")
public final class CandidatesCommand implements Callable<Integer> {
    private final Screen screen;

    /** What names are asked for. */
    enum Of {
        CONNECTIONS,
        RUNS,
        TABLES,
        COLUMNS
    }

    @Parameters(paramLabel = "OF")
    Of of = Of.RUNS;

    @Option(names = "--runs", defaultValue = RunChoice.DEFAULT_RUNS)
    Path runs = Path.of(RunChoice.DEFAULT_RUNS);

    public CandidatesCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        try {
            screen.print(names());
        } catch (ToolException e) {
            // Nobody reads a message while typing: there is nothing to complete with.
            return 0;
        }
        return 0;
    }

    private List<String> names() {
        return switch (of) {
            case CONNECTIONS -> Connections.ofUser().file().names();
            case RUNS ->
                RunFolder.all(runs, run -> true).stream()
                        .map(run -> run.folder().toString())
                        .toList();
            case TABLES -> latest().map(TableMatch::name).toList();
            case COLUMNS ->
                latest().flatMap(m -> m.pairs().stream().map(p -> p.source().name()))
                        .distinct()
                        .toList();
        };
    }

    private Stream<TableMatch> latest() {
        return RunFolder.latest(runs, run -> !run.matches().isEmpty()).matches().stream();
    }
}
