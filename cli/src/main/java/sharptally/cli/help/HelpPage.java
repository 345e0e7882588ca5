package sharptally.cli.help;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Help.Ansi.Text;
import picocli.CommandLine.Help.ColorScheme;
import picocli.CommandLine.Help.Column;
import picocli.CommandLine.Help.Column.Overflow;
import picocli.CommandLine.Help.IParamLabelRenderer;
import picocli.CommandLine.Help.TextTable;
import picocli.CommandLine.IHelpSectionRenderer;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;
import picocli.CommandLine.Model.UsageMessageSpec;

/**
 * The help of a command on one screen: a line for each option, which is the first of its description; the manual has
 * the others too. Options that every command has are on the page of the program alone.
 */
public final class HelpPage {
    private static final Set<String> EVERYWHERE =
            Set.of("--help", "--version", "--stack", "--driver-jar", "--allow-jdbc");
    private static final int WIDTH_OF_NAMES = 31;
    /** Up to so many options are one list. */
    private static final int UNGROUPED = 12;

    private HelpPage() {}

    /** Gives the page to every command below a line. */
    public static void of(CommandLine line, int columns) {
        for (CommandLine command : line.getSubcommands().values()) {
            UsageMessageSpec usage = command.getCommandSpec().usageMessage();
            usage.width(columns);
            Map<String, IHelpSectionRenderer> sections = new LinkedHashMap<>(command.getHelpSectionMap());
            sections.put(UsageMessageSpec.SECTION_KEY_SYNOPSIS, Help::abbreviatedSynopsis);
            sections.put(UsageMessageSpec.SECTION_KEY_PARAMETER_LIST, help -> "");
            sections.put(UsageMessageSpec.SECTION_KEY_OPTION_LIST, HelpPage::options);
            sections.put(UsageMessageSpec.SECTION_KEY_EXIT_CODE_LIST_HEADING, help -> "");
            sections.put(UsageMessageSpec.SECTION_KEY_EXIT_CODE_LIST, HelpPage::exitCodes);
            command.setHelpSectionMap(sections);
        }
    }

    private static String options(Help help) {
        Help.Layout layout = layout(help);
        for (PositionalParamSpec parameter : help.commandSpec().positionalParameters()) {
            layout.addPositionalParameter(parameter, help.parameterLabelRenderer());
        }
        List<OptionSpec> options = help.commandSpec().options().stream()
                .filter(o -> !o.hidden() && !EVERYWHERE.contains(o.longestName()))
                .toList();
        StringBuilder grouped = new StringBuilder();
        if (options.size() <= UNGROUPED) {
            options.forEach(o -> layout.addOption(o, help.parameterLabelRenderer()));
        } else {
            for (OptionGroup group : OptionGroup.values()) {
                List<OptionSpec> ofGroup =
                        options.stream().filter(o -> OptionGroup.of(o) == group).toList();
                if (!ofGroup.isEmpty()) {
                    Help.Layout part = layout(help);
                    ofGroup.forEach(o -> part.addOption(o, help.parameterLabelRenderer()));
                    grouped.append(String.format(
                                    Locale.ROOT, "%s%n", help.colorScheme().text("@|bold " + group.title() + "|@")))
                            .append(part);
                }
            }
        }
        return String.format(Locale.ROOT, "%n")
                + layout
                + grouped
                + String.format(
                        Locale.ROOT, "%nAlso --stack, --driver-jar=JAR, --allow-jdbc. More: sharp-tally manual%n");
    }

    /** Names of options that have a place on the page. */
    public static java.util.List<String> groupedNames() {
        return OptionGroup.names();
    }

    private static Help.Layout layout(Help help) {
        int width = help.commandSpec().usageMessage().width();
        TextTable table = TextTable.forColumns(
                help.colorScheme(),
                new Column(WIDTH_OF_NAMES, 2, Overflow.SPAN),
                new Column(width - WIDTH_OF_NAMES, 1, Overflow.WRAP));
        return new Help.Layout(help.colorScheme(), table, HelpPage::ofOption, HelpPage::ofParameter);
    }

    private static Text[][] ofOption(OptionSpec option, IParamLabelRenderer label, ColorScheme scheme) {
        String names = option.negatable()
                ? option.longestName().replaceFirst("^--", "--[no-]")
                : String.join(", ", option.names());
        String sign = option.arity().min() > 1 ? " " : "=";
        String value = option.arity().max() > 0 ? sign + option.paramLabel() : "";
        return row(option, scheme.optionText(names + value), scheme);
    }

    private static Text[][] ofParameter(PositionalParamSpec parameter, IParamLabelRenderer label, ColorScheme scheme) {
        return row(parameter, scheme.parameterText(parameter.paramLabel()), scheme);
    }

    private static Text[][] row(ArgSpec arg, Text name, ColorScheme scheme) {
        List<String> description = List.of(arg.description());
        return new Text[][] {{name, scheme.text(description.isEmpty() ? "" : filled(arg, description.get(0)))}};
    }

    /** A description with what its variables stand for. */
    static String filled(ArgSpec arg, String description) {
        String candidates = arg.completionCandidates() == null
                ? ""
                : java.util.stream.StreamSupport.stream(
                                arg.completionCandidates().spliterator(), false)
                        .collect(Collectors.joining(", "));
        return description
                .replace("${COMPLETION-CANDIDATES}", candidates)
                .replace("${DEFAULT-VALUE}", String.valueOf(arg.defaultValue()))
                .replace("%%", "%");
    }

    private static String exitCodes(Help help) {
        Map<String, String> codes = help.commandSpec().usageMessage().exitCodeList();
        if (codes.isEmpty()) {
            return "";
        }
        TextTable table = TextTable.forColumns(
                help.colorScheme(),
                new Column(13, 0, Overflow.SPAN),
                new Column(help.commandSpec().usageMessage().width() - 13, 0, Overflow.WRAP));
        table.addRowValues(
                "Exit codes:",
                codes.entrySet().stream()
                        .map(code -> code.getKey().strip() + " " + code.getValue())
                        .collect(Collectors.joining("; ")));
        return table.toString();
    }
}
