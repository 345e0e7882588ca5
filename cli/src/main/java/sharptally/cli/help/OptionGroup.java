package sharptally.cli.help;

import java.util.Arrays;
import java.util.List;
import picocli.CommandLine.Model.OptionSpec;

/** What options are about, in the order of help pages. */
enum OptionGroup {
    WHAT(
            "What",
            "--job",
            "--runs",
            "--source-schema",
            "--target-schema",
            "--table",
            "--leave-out-table",
            "--column",
            "--leave-out-column",
            "--key",
            "--to",
            "--fix",
            "--view",
            "--resume"),
    ROWS(
            "Which rows",
            "--where",
            "--if",
            "--kind",
            "--row",
            "--key-range",
            "--selection",
            "--sample",
            "--changed-since",
            "--allow-empty",
            "--with-parents",
            "--limit"),
    HOW("How"),
    OUTPUT(
            "Where to",
            "--format",
            "--quiet",
            "--all",
            "--redact",
            "--record",
            "--keep-runs",
            "--out",
            "--out-folder",
            "--save-selection",
            "--verify");

    private final String title;
    private final List<String> options;

    OptionGroup(String title, String... options) {
        this.title = title;
        this.options = List.of(options);
    }

    String title() {
        return title;
    }

    static OptionGroup of(OptionSpec option) {
        return Arrays.stream(values())
                .filter(group -> group.options.contains(option.longestName()))
                .findFirst()
                .orElse(HOW);
    }

    /** All names that are in a group, so that a test can tell whether each is that of an option. */
    static List<String> names() {
        return Arrays.stream(values()).flatMap(g -> g.options.stream()).toList();
    }
}
