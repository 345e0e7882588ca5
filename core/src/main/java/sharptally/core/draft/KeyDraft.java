package sharptally.core.draft;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import sharptally.core.draft.Draft.Columns;
import sharptally.core.draft.Draft.Key;
import sharptally.core.place.Place;
import sharptally.core.place.part.Aggregates;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/**
 * Proposes a key for two tables: the primary key of either, else what either holds unique, else the fewest columns that
 * a look at the data finds unique on both sides. What a database does not hold unique itself is looked for in all its
 * rows.
 */
final class KeyDraft {
    private static final int MOST_COLUMNS = 3;
    private static final int MOST_TRIED = 400;
    private static final int EXAMPLES = 3;

    private final TableShape source;
    private final TableShape target;
    private final List<Columns> columns;
    private final Optional<List<Place>> places;

    /**
     * @param places source and target; empty when no row is to be read
     */
    KeyDraft(TableShape source, TableShape target, List<Columns> columns, Optional<List<Place>> places) {
        this.source = source;
        this.target = target;
        this.columns = columns.stream()
                .filter(c -> c.translation()
                        .filter(t -> !t.sameAs().isEmpty() || t.factor().isPresent())
                        .isEmpty())
                .toList();
        this.places = places;
    }

    Key find(Supplier<Optional<List<Sample>>> samples) {
        List<List<Columns>> declared = new ArrayList<>();
        for (boolean primary : new boolean[] {true, false}) {
            source.keys().stream()
                    .filter(k -> k.primary() == primary)
                    .flatMap(k -> paired(k, true).stream())
                    .forEach(declared::add);
            target.keys().stream()
                    .filter(k -> k.primary() == primary)
                    .flatMap(k -> paired(k, false).stream())
                    .forEach(declared::add);
        }
        Optional<Key> broken = Optional.empty();
        for (List<Columns> key : declared) {
            boolean held = isHeld(key, true) && isHeld(key, false);
            Optional<String> doubt = held ? Optional.empty() : repeated(key);
            Key found = new Key(names(key), says(key), doubt);
            if (doubt.isEmpty()) {
                return found;
            }
            broken = broken.isPresent() ? broken : Optional.of(found);
        }
        return broken.or(() -> samples.get().flatMap(s -> search(s.get(0), s.get(1))))
                .orElseGet(() -> new Key(
                        List.of(),
                        "none",
                        Optional.of("no key was found: whole rows will be counted; name one if there is one")));
    }

    private Optional<List<Columns>> paired(KeyShape key, boolean ofSource) {
        List<Columns> pairs = key.columns().stream()
                .flatMap(name -> columns.stream()
                        .filter(c -> (ofSource ? c.source() : c.target()).name().equals(name)))
                .toList();
        return pairs.size() == key.columns().size() ? Optional.of(pairs) : Optional.empty();
    }

    private boolean isHeld(List<Columns> key, boolean ofSource) {
        TableShape table = ofSource ? source : target;
        return table.holdsUnique(key.stream()
                .map(c -> (ofSource ? c.source() : c.target()).name())
                .toList());
    }

    private String says(List<Columns> key) {
        boolean one = isHeld(key, true);
        boolean other = isHeld(key, false);
        return one && other
                ? "unique on both sides"
                : "unique in the " + (one ? "source" : "target") + " by declaration"
                        + (places.isPresent() ? ", in the " + (one ? "target" : "source") + " by its rows" : "");
    }

    private static List<String> names(List<Columns> key) {
        return key.stream().map(c -> c.source().name()).toList();
    }

    /** What repeats itself on a side that does not hold the key unique; empty when nothing does, or none may be read. */
    private Optional<String> repeated(List<Columns> key) {
        if (places.isEmpty()) {
            return Optional.of("not unique by declaration on both sides, and no row was read: check that it is");
        }
        for (boolean ofSource : new boolean[] {true, false}) {
            if (!isHeld(key, ofSource)) {
                List<ColumnShape> of = key.stream()
                        .map(c -> ofSource ? c.source() : c.target())
                        .toList();
                Optional<Aggregates> figures =
                        places.get().get(ofSource ? 0 : 1).aggregates();
                if (figures.isEmpty()) {
                    return Optional.of("nobody could tell whether it is unique in the "
                            + (ofSource ? "source" : "target") + ": check that it is");
                }
                var found = figures.get().repeatedKeys(ofSource ? source : target, of, EXAMPLES);
                if (!found.isEmpty()) {
                    return Optional.of("the key is not unique in the " + (ofSource ? "source" : "target") + ": "
                            + found.stream().map(KeyDraft::example).collect(Collectors.joining(", ")));
                }
            }
        }
        return Optional.empty();
    }

    private static String example(List<Value> keyAndRows) {
        int last = keyAndRows.size() - 1;
        return keyAndRows.subList(0, last).stream().map(Value::toString).collect(Collectors.joining("/")) + " in "
                + keyAndRows.get(last) + " rows";
    }

    /** The fewest columns that are unique in both samples, and then in all rows of both sides. */
    private Optional<Key> search(Sample ones, Sample others) {
        List<Columns> sure = columns.stream()
                .filter(c -> ones.placeOf(c.source()) >= 0 && others.placeOf(c.target()) >= 0)
                .toList();
        Search search = new Search(sure, ones, others);
        for (int size = 1; size <= MOST_COLUMNS; size++) {
            Optional<List<Columns>> key = search.of(size, 0);
            if (key.isPresent()) {
                return Optional.of(new Key(
                        names(key.get()),
                        "found unique in the rows of both sides",
                        Optional.of("no database holds it unique: check that it is meant to be")));
            }
        }
        return Optional.empty();
    }

    /** Goes through the sets of columns, up to a number of them. */
    private final class Search {
        private final List<Columns> from;
        private final Sample ones;
        private final Sample others;
        private final List<Columns> chosen = new ArrayList<>();
        private int tried;

        Search(List<Columns> from, Sample ones, Sample others) {
            this.from = from;
            this.ones = ones;
            this.others = others;
        }

        /** A set of this many columns, those already chosen and others from a place on. */
        Optional<List<Columns>> of(int size, int next) {
            if (chosen.size() == size) {
                boolean inSamples = tried++ < MOST_TRIED
                        && ones.isUnique(chosen.stream()
                                .map(c -> ones.placeOf(c.source()))
                                .toList())
                        && others.isUnique(chosen.stream()
                                .map(c -> others.placeOf(c.target()))
                                .toList());
                return inSamples && repeated(chosen).isEmpty() ? Optional.of(List.copyOf(chosen)) : Optional.empty();
            }
            for (int i = next; i < from.size(); i++) {
                chosen.add(from.get(i));
                Optional<List<Columns>> found = of(size, i + 1);
                chosen.remove(chosen.size() - 1);
                if (found.isPresent()) {
                    return found;
                }
            }
            return Optional.empty();
        }
    }
}
