package sharptally.cli.help;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Option;
import sharptally.cli.Main;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** {@code manual}. */
@Command(
        name = "manual",
        description = "Writes manual pages of all commands, for man.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:written", "5:can't be written"},
        footer = {"", "Example: sharp-tally manual --out-folder ~/.local/share/man/man1 && man sharp-tally-compare"})
public final class ManualCommand implements Callable<Integer> {
    private final Screen screen;

    @Option(names = "--out-folder", paramLabel = "FOLDER", required = true, description = "Where to write them.")
    Path out = Path.of(".");

    public ManualCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        CommandLine all = Main.commandLine(screen);
        try {
            Files.createDirectories(out);
            List<String> pages = new ArrayList<>(all.getSubcommands().keySet());
            pages.remove("candidates");
            write("sharp-tally", page("sharp-tally", all, pages));
            for (Map.Entry<String, CommandLine> command : all.getSubcommands().entrySet()) {
                if (!pages.contains(command.getKey())) {
                    continue;
                }
                String name = "sharp-tally-" + command.getKey();
                write(name, page(name, command.getValue(), List.of()));
            }
            screen.print(List.of(pages.size() + 1 + " pages written to " + out));
            return 0;
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write manual pages",
                    out + " (" + e.getMessage() + ")",
                    "choose another folder with --out-folder",
                    e);
        }
    }

    private void write(String name, String page) throws IOException {
        Files.writeString(out.resolve(name + ".1"), page);
    }

    private static String page(String name, CommandLine command, List<String> others) {
        var usage = command.getCommandSpec().usageMessage();
        Help help = command.getHelp();
        StringBuilder page = new StringBuilder();
        page.append(".TH ").append(name.toUpperCase(Locale.ROOT)).append(" 1 \"\" \"sharp-tally\"\n");
        page.append(".SH NAME\n").append(escaped(name)).append(" \\- ");
        page.append(escaped(usage.description()[0].replaceFirst("\\.$", ""))).append('\n');
        section(page, "SYNOPSIS", List.of(help.synopsis(0).strip()));
        page.append(".SH DESCRIPTION\n")
                .append(escaped(String.join(" ", usage.description())))
                .append('\n');
        List<OptionSpec> options = command.getCommandSpec().options().stream()
                .filter(o -> !o.hidden())
                .toList();
        page.append(".SH OPTIONS\n");
        command.getCommandSpec().positionalParameters().forEach(parameter -> {
            page.append(".TP\n").append(escaped(parameter.paramLabel())).append('\n');
            page.append(escaped(text(parameter.description(), parameter))).append('\n');
        });
        for (OptionSpec option : options) {
            String value = option.arity().max() > 0 ? " " + option.paramLabel() : "";
            page.append(".TP\n.B ")
                    .append(escaped(String.join(", ", option.names()) + value))
                    .append('\n');
            page.append(escaped(text(option.description(), option))).append('\n');
        }
        List<String> codes = new ArrayList<>();
        usage.exitCodeList().forEach((code, meaning) -> codes.add(code + "  " + meaning));
        section(page, "EXIT STATUS", codes);
        section(page, "EXAMPLES", List.of(usage.footer()));
        if (!others.isEmpty()) {
            section(
                    page,
                    "SEE ALSO",
                    others.stream().map(o -> "sharp-tally-" + o + "(1)").toList());
        }
        return page.toString();
    }

    private static String text(String[] description, CommandLine.Model.ArgSpec arg) {
        return Ansi.OFF.string(HelpPage.filled(arg, String.join(" ", description)));
    }

    private static void section(StringBuilder page, String title, List<String> lines) {
        if (!lines.isEmpty()) {
            page.append(".SH ").append(title).append("\n.nf\n");
            lines.forEach(line -> page.append(escaped(line)).append('\n'));
            page.append(".fi\n");
        }
    }

    /** So that no letter of it is taken for a request. */
    private static String escaped(String text) {
        String safe = text.replace("\\", "\\e").replace("-", "\\-");
        return safe.lines()
                .map(line -> line.startsWith(".") || line.startsWith("'") ? "\\&" + line : line)
                .reduce((a, b) -> a + "\n" + b)
                .orElse("");
    }
}
