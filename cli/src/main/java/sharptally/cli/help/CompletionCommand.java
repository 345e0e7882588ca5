package sharptally.cli.help;

import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Parameters;
import sharptally.cli.Main;
import sharptally.cli.screen.Screen;

/** {@code completion}. */
@Command(
        name = "completion",
        description = {"Prints a script by which a shell completes commands.", "Options and values too."},
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:printed", "2:no such shell"},
        footer = {
            "",
            "Examples: source <(sharp-tally completion bash)",
            "          sharp-tally completion fish > ~/.config/fish/completions/sharp-tally.fish"
        })
public final class CompletionCommand implements Callable<Integer> {
    /** Shells that complete. */
    enum Shell {
        BASH,
        ZSH,
        FISH;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** Names that only the program knows: it is asked for them, and for all else the script above. */
    private static final String NAMES = """

            function _sharp_tally_names() {
              local current=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD-1]} of=
              case $before in
                --table | --leave-out-table) of=tables ;;
                --column | --leave-out-column | --key) of=columns ;;
                --resume) of=runs ;;
                @) of=connections ;;
                *)
                  case $current in
                    @*) of=connections ;;
                    -*) ;;
                    *)
                      case ${COMP_WORDS[1]} in
                        show | browse | script | apply | recheck | report | history)
                          [[ $before == "${COMP_WORDS[1]}" ]] && of=runs ;;
                      esac ;;
                  esac ;;
              esac
              if [[ -z $of ]]; then
                _complete_sharp-tally "$@"
                return
              fi
              local IFS=$'\n' at=
              [[ $current == @* ]] && at=@
              COMPREPLY=($(compgen -P "$at" -W "$("${COMP_WORDS[0]}" candidates $of 2>/dev/null)" -- "${current#@}"))
            }
            complete -F _sharp_tally_names -o default sharp-tally sharp-tally.sh sharp-tally.bash
            """;

    private static final java.util.Set<String> WORKING_ON_RUNS =
            java.util.Set.of("show", "browse", "script", "apply", "recheck", "report", "history");

    private final Screen screen;

    @Parameters(paramLabel = "SHELL", description = "${COMPLETION-CANDIDATES}.")
    Shell shell = Shell.BASH;

    public CompletionCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        CommandLine all = Main.commandLine(screen);
        String name = all.getCommandName();
        screen.print(List.of(
                switch (shell) {
                    case BASH -> AutoComplete.bash(name, all) + NAMES;
                    case ZSH -> "autoload -U +X bashcompinit && bashcompinit\n" + AutoComplete.bash(name, all) + NAMES;
                    case FISH -> fish(name, all);
                }));
        return 0;
    }

    private static String fish(String name, CommandLine all) {
        StringBuilder out = new StringBuilder("complete -c " + name + " -f\n");
        for (Map.Entry<String, CommandLine> command : all.getSubcommands().entrySet()) {
            if (command.getValue().getCommandSpec().usageMessage().hidden()) {
                continue;
            }
            String described =
                    first(command.getValue().getCommandSpec().usageMessage().description());
            out.append("complete -c ")
                    .append(name)
                    .append(" -n __fish_use_subcommand -a ")
                    .append(command.getKey());
            out.append(" -d ").append(quoted(described)).append('\n');
            if (WORKING_ON_RUNS.contains(command.getKey())) {
                out.append("complete -c " + name + " -n '__fish_seen_subcommand_from " + command.getKey() + "' -a '("
                        + name + " candidates runs)'\n");
            }
            if (command.getKey().matches("survey|draft|totals|compare|checksum")) {
                out.append("complete -c " + name + " -n '__fish_seen_subcommand_from " + command.getKey() + "' -a '("
                        + name + " candidates connections | string replace -r \"^\" @)'\n");
            }
            for (OptionSpec option : command.getValue().getCommandSpec().options()) {
                if (!option.hidden()) {
                    out.append(option(name, command.getKey(), option));
                }
            }
        }
        return out.toString();
    }

    private static String option(String name, String command, OptionSpec option) {
        StringBuilder out =
                new StringBuilder("complete -c " + name + " -n '__fish_seen_subcommand_from " + command + "'");
        for (String given : option.names()) {
            out.append(given.startsWith("--") ? " -l " + given.substring(2) : " -s " + given.substring(1));
        }
        if (option.arity().max() > 0) {
            String of = asked(option.longestName());
            if (!of.isEmpty()) {
                out.append(" -x -a '(")
                        .append(name)
                        .append(" candidates ")
                        .append(of)
                        .append(")'");
            } else if (option.completionCandidates() != null) {
                out.append(" -x -a ").append(quoted(String.join(" ", option.completionCandidates())));
            } else {
                out.append(" -r -F");
            }
        }
        return out.append(" -d ")
                .append(quoted(first(option.description())))
                .append('\n')
                .toString();
    }

    /** What the program is asked for where this option's value is typed; empty where that needs nobody. */
    private static String asked(String option) {
        return switch (option) {
            case "--table", "--leave-out-table" -> "tables";
            case "--column", "--leave-out-column", "--key" -> "columns";
            case "--resume" -> "runs";
            default -> "";
        };
    }

    private static String first(String[] description) {
        return description.length == 0 ? "" : description[0].replaceAll("\\$\\{[^}]*\\}", "…");
    }

    private static String quoted(String text) {
        return "'" + text.replace("\\", "\\\\").replace("'", "\\'") + "'";
    }
}
