package sharptally.report.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.place.Side;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style.Meaning;

/** What a run proved, in one line; before it, what was not compared to its end, and why. */
public final class VerdictText {
    private static final int MAX_NAMES = 8;

    private final RunSummary run;
    private final Style style;
    private final int columns;
    private final boolean every;
    private final List<String> lines = new ArrayList<>();

    private VerdictText(RunSummary run, Style style, int columns, boolean every) {
        this.run = run;
        this.style = style;
        this.columns = columns;
        this.every = every;
    }

    /** What was found of one match, in a word or two. */
    public static String word(MatchSummary match) {
        return match.exitCode() > 1
                ? "not proved"
                : match.exitCode() == 1
                        ? "differs"
                        : match.unaccepted() > 0 ? "as allowed" : match.accepted() > 0 ? "accepted" : "same";
    }

    /** What the run proved, in the last line; before it, matches that were not compared to their end. */
    public static List<String> lines(RunSummary run) {
        VerdictText text = new VerdictText(run, Style.PLAIN, Integer.MAX_VALUE, false);
        text.verdict();
        return List.copyOf(text.lines);
    }

    /**
     * The same for a terminal.
     *
     * @param columns its width
     * @param every whether all matches that were not compared to their end are named, however many there are
     */
    static List<String> lines(RunSummary run, Style style, int columns, boolean every) {
        VerdictText text = new VerdictText(run, style, columns, every);
        text.verdict();
        text.fold();
        return List.copyOf(text.lines);
    }

    /** What was left out stands on lines of its own where the terminal is too narrow for it. */
    private void fold() {
        String asked = asked();
        int last = lines.size() - 1;
        if (!asked.isEmpty() && lines.get(last).length() > columns) {
            String verdict = lines.get(last);
            lines.set(last, verdict.substring(0, verdict.length() - asked.length()));
            lines.addAll(TextWidth.note(asked.strip(), columns));
        }
    }

    private void verdict() {
        Map<String, List<String>> failures = new LinkedHashMap<>();
        run.matches()
                .forEach(m -> m.failure()
                        .ifPresent(f -> failures.computeIfAbsent(
                                        f.replace(": " + m.name() + ";", ";"), text -> new ArrayList<>())
                                .add(m.name())));
        failures.forEach((why, names) -> lines.add(style.paint("not finished: ", Meaning.CHANGED)
                + TextWidth.harmless((every ? String.join(", ", names) : some(names)) + ": " + why)));
        long proved = run.matches().stream().filter(m -> m.exitCode() <= 1).count();
        long same = run.matches().stream().filter(m -> m.nothingDiffers()).count();
        long all = run.matches().size();
        String unproved = proved < all ? "; " + units(all - proved) + " not proved either way" : "";
        long untold = run.lone().stream().filter(t -> t.untold().isPresent()).count();
        String hidden = untold > 0 ? "; of " + Figures.count(untold, "table") + " it can't be told" : "";
        if (run.exitCode() == 0 && run.allowed().isEmpty() && run.acceptedRows() > 0) {
            lines.add(style.paint("same but for " + Figures.count(run.acceptedRows()) + " accepted", Meaning.GOOD)
                    + ": every row " + (narrowings().isEmpty() ? "" : "asked for ") + "of "
                    + units(all) + " was compared, nothing else differs" + settled() + asked());
        } else if (run.exitCode() == 0 && !run.allowed().isEmpty()) {
            lines.add(style.paint("different, but no more than allowed", Meaning.GOOD) + ": "
                    + Figures.count(same) + " of " + units(all) + " same; " + differing() + allowed()
                    + settled() + asked());
        } else if (run.exitCode() == 0) {
            lines.add(style.paint("same", Meaning.GOOD) + ": every row "
                    + (narrowings().isEmpty() ? "" : "asked for ") + "of " + units(all)
                    + " was compared, nothing differs" + settled() + asked());
        } else if (all == 0 && run.oneSided() > 0) {
            lines.add(style.paint("different", Meaning.CHANGED) + ": " + alone().substring(2) + hidden + asked());
        } else if (proved == 0 && run.oneSided() == 0) {
            lines.add(style.paint("nothing was proved", Meaning.CHANGED) + hidden + settled() + asked());
        } else {
            boolean differs = same < proved
                    || run.oneSided() > 0
                    || run.figuresDiffer()
                    || !run.unmet().isEmpty();
            lines.add(style.paint(differs ? "different" : "not proved", Meaning.CHANGED) + ": "
                    + Figures.count(same) + " of " + units(all) + " same; " + differing() + alone()
                    + allowed() + unproved + hidden + settled() + asked());
        }
    }

    /** Tables, and partitions that were compared by themselves. */
    private String units(long number) {
        long partitions =
                run.matches().stream().filter(m -> m.partitionOf().isPresent()).count();
        if (partitions == 0) {
            return Figures.count(number, "table");
        }
        return partitions == run.matches().size()
                ? Figures.count(number, "partition")
                : Figures.count(number) + " tables and partitions";
    }

    /** What became of rows that differed at first, and kept being looked at. */
    private String settled() {
        return run.settling()
                .map(how -> "; from " + second(run.started()) + " to " + second(how.until()) + " "
                        + Figures.count(how.settled(), "row") + " settled"
                        + (run.movingKeys() > 0 ? " and " + Figures.count(run.movingKeys()) + " kept changing" : ""))
                .orElse("");
    }

    private static String second(String instant) {
        return instant.replaceAll("\\.\\d+Z$", "Z");
    }

    private String differing() {
        return Figures.count(total(MatchSummary::changed)) + " changed, "
                + Figures.count(total(MatchSummary::missing)) + " missing, "
                + Figures.count(total(MatchSummary::extra)) + " extra" + repeatedKeys()
                + (run.acceptedRows() > 0 ? "; of these " + Figures.count(run.acceptedRows()) + " accepted" : "");
    }

    /** Tables with more differences than are accepted, and no more than the job file allows. */
    private String allowed() {
        List<MatchSummary> allowed = run.allowed();
        return allowed.isEmpty()
                ? ""
                : "; allowed: "
                        + some(allowed.stream()
                                .map(m -> Figures.count(m.unaccepted()) + " of " + TextWidth.harmless(m.name())
                                        + " (at most " + m.atMost().orElse("") + ")")
                                .toList());
    }

    /** Why not all rows were asked for. */
    private List<String> narrowings() {
        List<String> all = new ArrayList<>(run.narrowed());
        for (MatchSummary match : run.matches()) {
            match.narrowed().stream()
                    .filter(n -> !run.narrowed().contains(n))
                    .forEach(n -> all.add(match.name() + " " + n));
        }
        return all;
    }

    /** What was left out because somebody asked for it; a verdict is about the rest. */
    private String asked() {
        List<String> parts = new ArrayList<>();
        List<String> narrowings = narrowings();
        if (!narrowings.isEmpty()) {
            parts.add("not all rows were asked for: "
                    + (narrowings.size() > 2
                            ? Figures.count(narrowings.size(), "condition") + " (see notes)"
                            : TextWidth.harmless(String.join("; ", narrowings))));
        }
        if (!run.leftOut().isEmpty()) {
            long selected =
                    run.matches().size() + run.lone().size() + run.leftOut().size();
            parts.add("of " + units(selected) + " "
                    + Figures.count(run.matches().size()) + " compared, "
                    + Figures.count(run.leftOut().size()) + " left out on request");
        }
        long columnsLeftOut =
                run.matches().stream().mapToLong(m -> m.leftOut().size()).sum();
        if (columnsLeftOut > 0) {
            parts.add(Figures.count(columnsLeftOut, "column") + " left out on request");
        }
        return parts.isEmpty() ? "" : " (" + String.join("; ", parts) + ")";
    }

    private String repeatedKeys() {
        long repeated = total(MatchSummary::repeated);
        return repeated == 0 ? "" : ", " + Figures.count(repeated, "repeated key");
    }

    private String alone() {
        StringBuilder text = new StringBuilder();
        alone(text, run.loneTables(Side.SOURCE).size(), "missing table");
        alone(text, run.loneTables(Side.TARGET).size(), "extra table");
        alone(text, total(m -> m.missingColumns().size()), "missing column");
        alone(text, total(m -> m.extraColumns().size()), "extra column");
        if (!run.unmet().isEmpty()) {
            text.append("; ")
                    .append(Figures.count(run.unmet().size(), "constraint"))
                    .append(" not met");
        }
        return text.toString();
    }

    private static void alone(StringBuilder text, long number, String word) {
        if (number > 0) {
            text.append(", ").append(Figures.count(number, word));
        }
    }

    private long total(java.util.function.ToLongFunction<MatchSummary> part) {
        return run.matches().stream().mapToLong(part).sum();
    }

    /** The first of some names, and how many more there are. */
    static String some(List<String> names) {
        int more = names.size() - MAX_NAMES;
        return String.join(", ", names.subList(0, Math.min(MAX_NAMES, names.size())))
                + (more > 0 ? " and " + more + " more" : "");
    }
}
