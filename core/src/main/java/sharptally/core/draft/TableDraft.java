package sharptally.core.draft;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import sharptally.core.match.text.Glob;
import sharptally.core.shape.TableShape;

/** Pairs tables: as the user says, by their names, by names and columns that are alike, and at last by content. */
final class TableDraft {
    private static final double LIKE = 0.62;
    private static final double LIKE_CONTENT = 0.55;
    private static final double CLEAR = 0.1;
    private static final double FEW_COLUMNS = 0.5;
    /** Beyond so many tables left on a side, their contents are not compared with each other. */
    private static final int MAX_BY_CONTENT = 60;

    private final List<TableShape> source;
    private final List<TableShape> target;
    private final Map<TableShape, Found> found = new LinkedHashMap<>();
    private final Set<TableShape> usedTarget = new HashSet<>();

    /** A table's counterpart, what speaks for it, and what against. */
    record Found(TableShape target, String how, List<String> doubts) {}

    TableDraft(List<TableShape> source, List<TableShape> target) {
        this.source = source;
        this.target = target;
    }

    Map<TableShape, Found> found() {
        return found;
    }

    List<TableShape> sourceLeft() {
        return source.stream().filter(t -> !found.containsKey(t)).toList();
    }

    List<TableShape> targetLeft() {
        return target.stream().filter(t -> !usedTarget.contains(t)).toList();
    }

    private void pair(TableShape one, TableShape other, String how, List<String> doubts) {
        found.put(one, new Found(other, how, doubts));
        usedTarget.add(other);
    }

    /**
     * Pairs as the user says: {@code old=new}, with {@code *} for what both have in common.
     *
     * @param ofSource the schema of the source whose tables go by their bare names
     * @return the pairs that find no two tables
     */
    List<Map.Entry<Glob, Glob>> asSaid(List<Map.Entry<Glob, Glob>> said, String ofSource, String ofTarget) {
        List<Map.Entry<Glob, Glob>> idle = new ArrayList<>();
        for (Map.Entry<Glob, Glob> pair : said) {
            boolean any = false;
            for (TableShape one : sourceLeft()) {
                Optional<TableShape> other = pair.getKey()
                        .captures(one.name(), ofSource)
                        .map(pair.getValue()::filled)
                        .flatMap(wanted -> targetLeft().stream()
                                .filter(t -> t.name().isCalled(wanted, ofTarget))
                                .findFirst());
                if (other.isPresent()) {
                    any = true;
                    pair(one, other.get(), "as asked for", List.of());
                }
            }
            if (!any) {
                idle.add(pair);
            }
        }
        return idle;
    }

    void byName() {
        byForm(t -> folded(t.name().toString()), t -> folded(t.name().toString()), "the same name");
        byForm(t -> folded(t.name().name()), t -> folded(t.name().name()), "the same name");
        byForm(
                t -> Names.folded(t.name().name()),
                t -> Names.folded(t.name().name()),
                "the same name but for its spelling");
        Set<String> ofSource = affixes(source);
        Set<String> ofTarget = affixes(target);
        byForm(
                t -> bare(t, ofSource),
                t -> bare(t, ofTarget),
                "the same name but for what all names of a side have in common");
        byLikeness();
    }

    private static String folded(String name) {
        return name.toLowerCase(java.util.Locale.ROOT);
    }

    /** Pairs tables whose names are equal in some form, where just one table of each side has that form. */
    private void byForm(Function<TableShape, String> ofSource, Function<TableShape, String> ofTarget, String how) {
        Map<String, List<TableShape>> ones =
                sourceLeft().stream().collect(Collectors.groupingBy(ofSource, LinkedHashMap::new, Collectors.toList()));
        Map<String, List<TableShape>> others = targetLeft().stream().collect(Collectors.groupingBy(ofTarget));
        ones.forEach((name, tables) -> {
            List<TableShape> alike = others.getOrDefault(name, List.of());
            if (tables.size() == 1 && alike.size() == 1) {
                double like = ColumnDraft.likenessByName(tables.get(0), alike.get(0));
                List<String> doubts = like >= FEW_COLUMNS
                        ? List.of()
                        : List.of("only " + Math.round(like * 100) + " % of the columns have a counterpart by name");
                pair(tables.get(0), alike.get(0), how, doubts);
            }
        });
    }

    private static String bare(TableShape table, Set<String> affixes) {
        return Names.folded(Names.without(table.name().name(), affixes));
    }

    /** Words with which most names of a side begin or end. */
    private static Set<String> affixes(List<TableShape> tables) {
        Map<String, Integer> counts = new HashMap<>();
        for (TableShape table : tables) {
            List<String> words = Names.words(table.name().name());
            if (words.size() > 1) {
                counts.merge(words.get(0), 1, Integer::sum);
                counts.merge(words.get(words.size() - 1), 1, Integer::sum);
            }
        }
        Set<String> affixes = new HashSet<>();
        counts.forEach((word, count) -> {
            if (count >= 2 && count * 2 > tables.size()) {
                affixes.add(word);
            }
        });
        return affixes;
    }

    private record Candidate(TableShape source, TableShape target, double likelihood, String says) {}

    private void byLikeness() {
        Set<String> ofSource = affixes(source);
        Set<String> ofTarget = affixes(target);
        List<Candidate> candidates = new ArrayList<>();
        for (TableShape one : sourceLeft()) {
            List<String> words = Names.without(one.name().name(), ofSource);
            for (TableShape other : targetLeft()) {
                double names = Names.likeness(words, Names.without(other.name().name(), ofTarget));
                double columns = ColumnDraft.likenessByName(one, other);
                double likelihood = 0.45 * names + 0.55 * columns;
                if (likelihood >= LIKE && one.columns().size() > 1) {
                    candidates.add(new Candidate(
                            one,
                            other,
                            likelihood,
                            "names and " + Math.round(columns * 100) + " % of the columns are alike"));
                }
            }
        }
        take(candidates);
    }

    /** Holds what is left against each other by what it contains. */
    void byContent(Function<TableShape, Sample> ofSource, Function<TableShape, Sample> ofTarget) {
        if (sourceLeft().size() > MAX_BY_CONTENT || targetLeft().size() > MAX_BY_CONTENT) {
            return;
        }
        List<Candidate> candidates = new ArrayList<>();
        for (TableShape one : sourceLeft()) {
            for (TableShape other : targetLeft()) {
                double likelihood = likeness(ofSource.apply(one), ofTarget.apply(other));
                if (likelihood >= LIKE_CONTENT) {
                    candidates.add(new Candidate(one, other, likelihood, "their contents are alike"));
                }
            }
        }
        take(candidates);
    }

    /** How much of what the narrower table holds the other holds too; columns that tell little count for less. */
    private static double likeness(Sample one, Sample other) {
        if (one.rows().isEmpty() || other.rows().isEmpty()) {
            return 0;
        }
        ContentPairs content = new ContentPairs(one, other, List.of());
        boolean narrow = one.columns().size() <= other.columns().size();
        int few = narrow ? one.columns().size() : other.columns().size();
        int many = narrow ? other.columns().size() : one.columns().size();
        double sum = 0;
        double weights = 0;
        for (int i = 0; i < few; i++) {
            double best = 0;
            for (int j = 0; j < many; j++) {
                best = Math.max(
                        best, content.score(narrow ? i : j, narrow ? j : i).likelihood());
            }
            double weight = content.sketch(narrow, i).tellsLittle() ? 0.3 : 1;
            sum += weight * best;
            weights += weight;
        }
        double linked = (double) content.linkedRows()
                / Math.min(one.rows().size(), other.rows().size());
        double columns = weights == 0 ? 0 : sum / weights;
        return content.linkedRows() > 0 ? Math.min(1, columns * (0.7 + 0.3 * linked)) : columns * 0.8;
    }

    private void take(List<Candidate> candidates) {
        candidates.sort(Comparator.comparingDouble(Candidate::likelihood).reversed());
        for (Candidate candidate : candidates) {
            if (found.containsKey(candidate.source()) || usedTarget.contains(candidate.target())) {
                continue;
            }
            String rivals = candidates.stream()
                    .filter(c -> c != candidate
                            && (c.source().equals(candidate.source())
                                    || c.target().equals(candidate.target()))
                            && !found.containsKey(c.source())
                            && !usedTarget.contains(c.target())
                            && candidate.likelihood() - c.likelihood() < CLEAR)
                    .findFirst()
                    .map(c -> "; as likely: " + c.source().name() + " > "
                            + c.target().name())
                    .orElse("");
            pair(
                    candidate.source(),
                    candidate.target(),
                    candidate.says(),
                    List.of("likely at " + Names.percent(candidate.likelihood()) + " %: " + candidate.says() + rivals));
        }
    }
}
