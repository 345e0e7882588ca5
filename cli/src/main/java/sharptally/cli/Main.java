package sharptally.cli;

import java.io.File;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.UnmatchedArgumentException;
import sharptally.cli.help.HelpPage;
import sharptally.cli.option.Connections;
import sharptally.cli.screen.HintText;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Pager;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;

/** Starts the program. The only place that ends the process. */
public final class Main {
    private static final Pattern CHOICE = Pattern.compile(
            "Invalid value for (?:option|positional parameter[^(]*) ?'?\\(?([^')]+)\\)?'?(?: \\(.*?\\))?: expected one of \\[(.*)\\]"
                    + " \\(case-insensitive\\) but was '(.*)'");
    private static final Pattern NUMBER =
            Pattern.compile("Invalid value for option '([^']+)'(?: \\(.*?\\))?: '(.*)' is not an? (?:int|long)");
    private static final int LEAST_HELP_COLUMNS = 80;
    private static final int MOST_HELP_COLUMNS = 100;

    private Main() {}

    public static void main(String[] args) {
        System.exit(ofProcess(args));
    }

    /** Runs the command of this process, which its end or a signal may stop, and tells the exit code. */
    public static int ofProcess(String... args) {
        Ahead.of(args);
        Screen screen = Screen.ofProcess();
        int code = Interrupt.guard(() -> work(screen, args));
        screen.out().flush();
        if (screen.out().checkError() && code <= 1) {
            screen.say("sharp-tally: the result could not be written to the end: standard output");
            code = ErrorKind.INCOMPLETE.exitCode();
        }
        return code;
    }

    /**
     * Runs one command without ending the process, for programs that hold several.
     *
     * @param out where its result goes, which is written as for a file
     * @param err where its messages go
     * @return its exit code
     */
    public static int run(PrintStream out, PrintStream err, String... args) {
        return work(Screen.of(out, err), args);
    }

    private static int work(Screen screen, String... args) {
        Path temporary = Path.of(System.getProperty("java.io.tmpdir"));
        if (!Files.isDirectory(temporary) || !Files.isWritable(temporary)) {
            screen.say("sharp-tally: the temporary folder can't be written: " + temporary
                    + "; choose another one with JAVA_OPTS=-Djava.io.tmpdir=…");
            return ErrorKind.START.exitCode();
        }
        System.setProperty(
                "sharptally.profiles",
                Connections.configuration(System.getenv()).resolve("profiles")
                        + File.pathSeparator
                        + System.getProperty("sharptally.drivers", ""));
        try (Pager pager = Pager.of(screen, System.getenv(), args)) {
            return commandLine(pager.screen(), args).execute(args);
        } catch (ToolException e) {
            return failure(screen, e, args);
        } catch (OutOfMemoryError e) {
            screen.say(
                    "sharp-tally: not enough memory for values this large: " + String.join(" ", args)
                            + "; give more with the variable JAVA_OPTS=-Xmx4g, or change the rows with apply, which needs less");
            return ErrorKind.INCOMPLETE.exitCode();
        }
    }

    /** The command line for some arguments, for the process and for commands that play others. */
    public static CommandLine commandLine(Screen screen, String... args) {
        CommandLine line = new CommandLine(new SharpTally(), new CommandFactory(screen));
        SharpTally.addCommands(line, args);
        line.setOut(new java.io.PrintWriter(screen.out(), true));
        line.setErr(new java.io.PrintWriter(screen.err(), true));
        HelpPage.of(line, Math.max(LEAST_HELP_COLUMNS, Math.min(MOST_HELP_COLUMNS, screen.columns())));
        line.setCaseInsensitiveEnumValuesAllowed(true);
        line.setAbbreviatedOptionsAllowed(false);
        line.setParameterExceptionHandler((e, given) -> parameterProblem(screen, e, given));
        line.setExecutionExceptionHandler((e, command, parsed) -> failure(screen, e, args));
        return line;
    }

    private static int parameterProblem(Screen screen, ParameterException e, String... given) {
        String command = e.getCommandLine().getCommandSpec().qualifiedName();
        String message = plain(e.getMessage().lines().findFirst().orElse(""));
        if (e instanceof UnmatchedArgumentException unmatched
                && !unmatched.getSuggestions().isEmpty()) {
            message += "; did you mean " + unmatched.getSuggestions().get(0) + "?";
        }
        String line = message + "; see " + command + " --help";
        screen.say("sharp-tally: " + line);
        return ended(screen, ErrorKind.USAGE, line, given);
    }

    /** What the parser of arguments says, in the words of this program: nobody is to know of its types. */
    private static String plain(String message) {
        Matcher choice = CHOICE.matcher(message);
        if (choice.matches()) {
            List<String> known =
                    List.of(choice.group(2).toLowerCase(Locale.ROOT).split(", "));
            String nearest = Nearest.hint(choice.group(3), known, "");
            return choice.group(1) + ": " + choice.group(3) + " is none of " + String.join(", ", known)
                    + (nearest.startsWith("did you mean") ? "; " + nearest : "");
        }
        Matcher number = NUMBER.matcher(message);
        return number.matches() ? number.group(1) + ": " + number.group(2) + " is not a whole number" : message;
    }

    /** Whether the result is to be read by a program, which is to learn of failures as well. */
    private static boolean wantsJson(String... args) {
        List<String> all = List.of(args);
        int format = all.lastIndexOf("--format");
        return all.contains("--format=json")
                || format >= 0 && format + 1 < all.size() && all.get(format + 1).equals("json");
    }

    private static int failure(Screen screen, Exception e, String... args) {
        if (e instanceof Pager.Left) {
            return 0;
        }
        Throwable cause = e instanceof java.io.UncheckedIOException ? e.getCause() : e;
        if (cause instanceof ToolException expected) {
            screen.say("sharp-tally: " + HintText.line(expected));
            if (wantsJson(args)) {
                JsonResult.failed(screen, args[0], expected);
            }
            return expected.kind().exitCode();
        }
        if (cause instanceof java.io.IOException io) {
            String said = "can't write: " + io.getMessage() + "; make room, or choose another file";
            screen.say("sharp-tally: " + said);
            return ended(screen, ErrorKind.INCOMPLETE, said, args);
        }
        screen.say("sharp-tally: this is a bug: " + e + "; run again with --stack and send us what it prints");
        if (Boolean.getBoolean("sharptally.stack")) {
            e.printStackTrace(screen.err());
        }
        return ended(screen, ErrorKind.BUG, "this is a bug: " + e, args);
    }

    private static int ended(Screen screen, ErrorKind kind, String said, String... args) {
        if (wantsJson(args)) {
            JsonResult.failed(screen, args[0], kind, said);
        }
        return kind.exitCode();
    }
}
