package sharptally.core.draft;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import sharptally.core.draft.ContentPairs.Score;
import sharptally.core.draft.Draft.Columns;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/** Pairs the columns of two tables: by their names as far as those tell, then by content. */
final class ColumnDraft {
    private static final double LIKE_NAMES = 0.72;
    private static final double LIKELY = 0.6;
    private static final double CLEAR = 0.12;

    private final TableShape source;
    private final TableShape target;
    private final Map<ColumnShape, Columns> pairs = new HashMap<>();
    private final Set<ColumnShape> usedTarget = new HashSet<>();

    private ColumnDraft(TableShape source, TableShape target) {
        this.source = source;
        this.target = target;
    }

    /** The share of the columns of the smaller table that names alone pair, from 0 to 1. */
    static double likenessByName(TableShape source, TableShape target) {
        ColumnDraft draft = new ColumnDraft(source, target);
        draft.byName();
        int smaller = Math.min(source.columns().size(), target.columns().size());
        return smaller == 0 ? 0 : (double) draft.pairs.size() / smaller;
    }

    /**
     * @param samples both sides' samples, asked for only where names leave columns over; empty when no row is to be read
     */
    static List<Columns> of(TableShape source, TableShape target, Supplier<Optional<List<Sample>>> samples) {
        ColumnDraft draft = new ColumnDraft(source, target);
        draft.byName();
        if (!draft.left(source, true).isEmpty() && !draft.left(target, false).isEmpty()) {
            samples.get().ifPresentOrElse(s -> draft.byContent(s.get(0), s.get(1)), draft::byLikeNames);
        }
        return source.columns().stream()
                .map(draft.pairs::get)
                .filter(java.util.Objects::nonNull)
                .toList();
    }

    private List<ColumnShape> left(TableShape table, boolean ofSource) {
        return table.columns().stream()
                .filter(c -> ofSource ? !pairs.containsKey(c) : !usedTarget.contains(c))
                .toList();
    }

    private void pair(Columns columns) {
        pairs.put(columns.source(), columns);
        usedTarget.add(columns.target());
    }

    private void byName() {
        byForm(ColumnShape::name, ColumnShape::name);
        byForm(c -> c.name().toLowerCase(java.util.Locale.ROOT), c -> c.name().toLowerCase(java.util.Locale.ROOT));
        byForm(c -> Names.folded(c.name()), c -> Names.folded(c.name()));
        Set<String> ofSource = affixes(source);
        Set<String> ofTarget = affixes(target);
        byForm(
                c -> Names.folded(Names.without(c.name(), ofSource)),
                c -> Names.folded(Names.without(c.name(), ofTarget)));
    }

    /** Words that say only which table a column is of: the table's own, and those with which most columns begin. */
    private static Set<String> affixes(TableShape table) {
        Set<String> affixes = new LinkedHashSet<>(Names.words(table.name().name()));
        table.columns().stream()
                .map(c -> Names.words(c.name()).get(0))
                .collect(Collectors.groupingBy(w -> w, Collectors.counting()))
                .forEach((word, count) -> {
                    if (count > 1 && count * 2 > table.columns().size()) {
                        affixes.add(word);
                    }
                });
        return affixes;
    }

    /** Pairs columns whose names are equal in some form, where just one column of each side has that form. */
    private void byForm(
            java.util.function.Function<ColumnShape, String> ofSource,
            java.util.function.Function<ColumnShape, String> ofTarget) {
        Map<String, List<ColumnShape>> ones = left(source, true).stream().collect(Collectors.groupingBy(ofSource));
        Map<String, List<ColumnShape>> others = left(target, false).stream().collect(Collectors.groupingBy(ofTarget));
        ones.forEach((form, columns) -> {
            List<ColumnShape> alike = others.getOrDefault(form, List.of());
            if (columns.size() == 1 && alike.size() == 1) {
                pair(new Columns(
                        columns.get(0), alike.get(0), typeDoubt(columns.get(0), alike.get(0)), Optional.empty()));
            }
        });
    }

    private static Optional<String> typeDoubt(ColumnShape one, ColumnShape other) {
        return kind(one, other).isPresent()
                ? Optional.empty()
                : Optional.of("no faithful way to compare " + one.declaredType() + " with " + other.declaredType()
                        + ": compute one of them, or leave it out");
    }

    private static Optional<Kind> kind(ColumnShape one, ColumnShape other) {
        return one.type().flatMap(a -> other.type().flatMap(b -> Kind.common(a.kind(), b.kind())));
    }

    private record Candidate(ColumnShape source, ColumnShape target, double likelihood, Score score) {}

    private void byLikeNames() {
        take(candidates((one, other) -> {
            double like = Names.likeness(Names.words(one.name()), Names.words(other.name()));
            return new Score(like >= LIKE_NAMES ? like : 0, "the names are alike", Optional.empty());
        }));
    }

    private void byContent(Sample ones, Sample others) {
        List<int[]> links = new ArrayList<>();
        for (Columns columns : pairs.values()) {
            int s = ones.placeOf(columns.source());
            int t = others.placeOf(columns.target());
            if (s >= 0 && t >= 0) {
                links.add(new int[] {s, t});
            }
        }
        ContentPairs content = new ContentPairs(ones, others, links);
        take(candidates((one, other) -> {
            int s = ones.placeOf(one);
            int t = others.placeOf(other);
            double like = Names.likeness(Names.words(one.name()), Names.words(other.name()));
            if (s < 0 || t < 0) {
                return new Score(like >= LIKE_NAMES ? like : 0, "the names are alike", Optional.empty());
            }
            Score score = content.score(s, t);
            boolean empty = ones.rows().isEmpty() || others.rows().isEmpty();
            double likelihood = empty
                    ? (like >= LIKE_NAMES ? like : 0)
                    : Math.min(1, score.likelihood() + (like >= LIKE_NAMES ? 0.25 * like : 0.05 * like));
            return new Score(likelihood, empty ? "the names are alike" : score.says(), score.translation());
        }));
    }

    private List<Candidate> candidates(java.util.function.BiFunction<ColumnShape, ColumnShape, Score> score) {
        List<Candidate> all = new ArrayList<>();
        for (ColumnShape one : left(source, true)) {
            for (ColumnShape other : left(target, false)) {
                boolean mapped = one.type().isPresent() && other.type().isPresent();
                if (mapped) {
                    Score found = score.apply(one, other);
                    boolean fits = kind(one, other).isPresent()
                            || found.translation()
                                    .filter(t -> !t.sameAs().isEmpty())
                                    .isPresent();
                    if (fits && found.likelihood() >= LIKELY) {
                        all.add(new Candidate(one, other, found.likelihood(), found));
                    }
                }
            }
        }
        all.sort(Comparator.comparingDouble(Candidate::likelihood).reversed());
        return all;
    }

    /** Takes the likeliest first; what has a rival that is nearly as likely is said so. */
    private void take(List<Candidate> candidates) {
        for (Candidate candidate : candidates) {
            if (pairs.containsKey(candidate.source()) || usedTarget.contains(candidate.target())) {
                continue;
            }
            Optional<Candidate> rival = candidates.stream()
                    .filter(c -> c != candidate
                            && (c.source().equals(candidate.source())
                                    || c.target().equals(candidate.target()))
                            && !pairs.containsKey(c.source())
                            && !usedTarget.contains(c.target())
                            && candidate.likelihood() - c.likelihood() < CLEAR)
                    .findFirst();
            String doubt = "likely at " + Names.percent(candidate.likelihood()) + " %: "
                    + candidate.score().says()
                    + rival.map(r -> "; as likely: " + r.source().name() + " > "
                                    + r.target().name())
                            .orElse("");
            pair(new Columns(
                    candidate.source(),
                    candidate.target(),
                    Optional.of(doubt),
                    candidate.score().translation()));
        }
    }
}
