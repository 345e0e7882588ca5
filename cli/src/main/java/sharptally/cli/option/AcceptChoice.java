package sharptally.cli.option;

import java.nio.file.Path;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import picocli.CommandLine.Option;
import sharptally.core.accept.Acceptance;
import sharptally.core.accept.Acceptances;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.TableFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.formats.job.AcceptedFile;
import sharptally.formats.run.RunFolder;

/** Into which file the findings that are chosen are written as accepted, why, by whom and how long. */
public final class AcceptChoice {
    @Option(
            names = "--accept-into",
            paramLabel = "FILE",
            description = {
                "Add these to a file of accepted differences.",
                "With --reason and --until; by what chooses them, or by key where a selection does. Compare counts them apart then."
            })
    public Optional<Path> file = Optional.empty();

    @Option(names = "--reason", paramLabel = "TEXT", description = "Why they are accepted.")
    Optional<String> reason = Optional.empty();

    @Option(names = "--owner", paramLabel = "WHO", description = "Who answers for that. Default: you.")
    Optional<String> owner = Optional.empty();

    @Option(names = "--until", paramLabel = "DATE", description = "The last day of it, as 2027-01-31.")
    Optional<String> until = Optional.empty();

    @Option(
            names = "--cause",
            paramLabel = "WORDS",
            description = {"Only differences of this likely cause.", "As the view columns tells it: 'trailing spaces'."
            })
    Optional<String> cause = Optional.empty();

    /**
     * What was written.
     *
     * @param entries how many
     * @param accepted findings of the run that they accept
     * @param left findings that were chosen and are not: something else differs in their rows as well
     */
    public record Added(int entries, long accepted, long left) {}

    /**
     * @throws ToolException when an option is given that means nothing without the file
     */
    public void check() {
        if (file.isEmpty() && (reason.isPresent() || owner.isPresent() || until.isPresent() || cause.isPresent())) {
            throw usage(
                    "--reason, --owner, --until and --cause tell of differences that are accepted",
                    "give --accept-into");
        }
    }

    /** Writes entries for the findings that are chosen. */
    public Added add(RunFolder run, FindingChoice chosen) {
        FindingFilter filter = chosen.filter(run);
        if (!chosen.choosesRows() && cause.isEmpty() && chosen.tables.isEmpty()) {
            throw usage(
                    "all differences there will ever be would be accepted",
                    "say which: by --table, --kind, --column, --row, --key-range, --if, --selection or --cause");
        }
        if (chosen.onlyAccepted) {
            throw usage("these are accepted already", "leave --only-accepted out");
        }
        LocalDate last = until();
        String why = reason.map(String::strip)
                .filter(text -> !text.isEmpty())
                .orElseThrow(() -> usage("whoever reads it later must know why", "give --reason"));
        String who = owner.map(String::strip)
                .filter(text -> !text.isEmpty())
                .orElseGet(() -> System.getProperty("user.name", "unknown"));
        List<Acceptance> entries = new ArrayList<>();
        for (TableMatch match : run.matches()) {
            Set<String> selected = new TreeSet<>();
            long[] found = {0};
            if (filter.wants(match)) {
                run.forEach(match, finding -> {
                    if (filter.wants(match, finding)) {
                        found[0]++;
                        if (chosen.selection.isPresent()) {
                            selected.add(FindingFilter.keyText(finding.key()));
                        }
                    }
                });
            }
            if (found[0] > 0) {
                if (chosen.selection.isPresent() && match.wholeRow()) {
                    throw usage(match.name() + " has no key by which rows could be named", "choose them by --if");
                }
                entries.add(new Acceptance(
                        new FindingFilter(
                                new TableFilter(List.of(new Glob(Glob.escaped(match.name()))), List.of(), List.of()),
                                filter.kinds(),
                                filter.columns(),
                                chosen.selection.isPresent() ? selected : filter.keys(),
                                filter.range(),
                                filter.conditions(),
                                List.of()),
                        cause.map(Glob::new),
                        why,
                        who,
                        last,
                        ""));
            }
        }
        if (entries.isEmpty()) {
            throw usage("no difference of run " + run.summary().run() + " is chosen", "choose others");
        }
        Acceptances added = new Acceptances(entries);
        long[] counts = new long[2];
        run.matches()
                .forEach(match -> run.forEach(match, finding -> {
                    if (filter.wants(match, finding)) {
                        counts[added.holds(match, finding) ? 0 : 1]++;
                    }
                }));
        if (counts[0] == 0) {
            throw usage(
                    "none of the " + counts[1]
                            + " findings that are chosen would be accepted: more differs in their rows",
                    "see show --view columns for the columns and causes");
        }
        AcceptedFile.add(file.orElseThrow(), entries);
        return new Added(entries.size(), counts[0], counts[1]);
    }

    private LocalDate until() {
        String text = until.orElseThrow(() -> usage("nothing is accepted for ever", "give --until"));
        LocalDate last;
        try {
            last = LocalDate.parse(text);
        } catch (DateTimeException e) {
            throw new ToolException(
                    ErrorKind.USAGE, "--until should be a day, not " + text, "show", "write it as 2027-01-31", e);
        }
        if (last.isBefore(LocalDate.now(Clock.systemUTC()))) {
            throw usage("--until is past: " + text, "give a later day");
        }
        return last;
    }

    private static ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, "show --accept-into", mend);
    }
}
