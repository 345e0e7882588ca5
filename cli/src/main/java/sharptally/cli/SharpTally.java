package sharptally.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ScopeType;
import picocli.CommandLine.Spec;
import sharptally.cli.compare.SplitCommand;
import sharptally.cli.file.KeptCommand;
import sharptally.cli.help.CandidatesCommand;
import sharptally.cli.help.CompletionCommand;
import sharptally.cli.help.ManualCommand;
import sharptally.cli.option.Connections;

/** The program without a command. */
@Command(
        name = "sharp-tally",
        description = "Compares the rows of two databases, shows what differs, and makes the target like the source.",
        versionProvider = Version.class,
        mixinStandardHelpOptions = true,
        synopsisSubcommandLabel = "COMMAND",
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            " 0:same, or done",
            " 1:differences found",
            " 2:bad usage or job file",
            " 3:a database can't be reached or read",
            " 4:refused for safety",
            " 5:stopped before the end, so nothing was proved",
            "69:Java is missing, too old, or can't start",
            "70:a bug"
        },
        footer = {"", "Start with: sharp-tally demo"})
final class SharpTally implements Runnable {
    private static final List<Class<?>> COMMANDS = List.of(
            SurveyCommand.class,
            DraftCommand.class,
            TotalsCommand.class,
            ChecksumCommand.class,
            CompareCommand.class,
            ShowCommand.class,
            BrowseCommand.class,
            SplitCommand.class,
            ScriptCommand.class,
            ApplyCommand.class,
            RecheckCommand.class,
            ReportCommand.class,
            HistoryCommand.class,
            KeptCommand.class,
            CompletionCommand.class,
            ManualCommand.class,
            DemoCommand.class,
            CandidatesCommand.class,
            RehearseCommand.class,
            CommandLine.HelpCommand.class);

    @Spec
    CommandSpec spec;

    /**
     * Adds the command that the first argument names, or where it names none all of them: making each command known takes
     * longer than the rest of a short command.
     */
    static void addCommands(CommandLine line, String... args) {
        List<Class<?>> named = COMMANDS.stream()
                .filter(c -> args.length > 0
                        && !args[0].equals("help")
                        && c.getAnnotation(Command.class).name().equals(args[0]))
                .toList();
        (named.isEmpty() ? COMMANDS : named).forEach(line::addSubcommand);
    }

    @Option(names = "--stack", scope = ScopeType.INHERIT, description = "Print the stack trace of a bug.")
    void printStack(boolean stack) {
        System.setProperty("sharptally.stack", Boolean.toString(stack));
    }

    @Option(
            names = "--allow-jdbc",
            scope = ScopeType.INHERIT,
            description = {
                "Let job files and run folders name jdbc: addresses.",
                "Such an address may make its driver run code or read files, so this is for files that you trust."
            })
    void allowJdbc(boolean allowed) {
        System.setProperty(Connections.ALLOW_JDBC, Boolean.toString(allowed));
    }

    @Option(
            names = "--driver-jar",
            scope = ScopeType.INHERIT,
            paramLabel = "JAR",
            description = {
                "A further JDBC driver, for jdbc:. Repeatable.",
                "Jars in the folder drivers are found without."
            })
    void addDriver(List<String> jars) {
        jars.stream().filter(jar -> !Files.isReadable(Path.of(jar))).findFirst().ifPresent(jar -> {
            throw new ParameterException(new CommandLine(spec), "--driver-jar: no such file: " + jar);
        });
        System.setProperty("sharptally.driverJars", String.join(java.io.File.pathSeparator, jars));
    }

    @Override
    public void run() {
        throw new ParameterException(new CommandLine(spec), "name a command");
    }
}
