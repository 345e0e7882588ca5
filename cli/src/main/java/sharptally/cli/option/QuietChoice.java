package sharptally.cli.option;

import picocli.CommandLine.Option;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Whether a command says no more than its verdict. */
public final class QuietChoice {
    @Option(
            names = {"-q", "--quiet"},
            description = "Print one line with the verdict.")
    public boolean quiet;

    /**
     * @throws ToolException when something else is asked for that is printed
     */
    public void check(String command, boolean other, String option) {
        if (quiet && other) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "--quiet prints one line alone, " + option + " prints more",
                    command,
                    "give one of both");
        }
    }

    /** Where progress is shown: nowhere, where all is quiet. */
    public Screen of(Screen screen) {
        return quiet ? screen.withoutTerminal() : screen;
    }
}
