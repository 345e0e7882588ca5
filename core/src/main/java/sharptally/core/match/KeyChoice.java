package sharptally.core.match;

import java.util.List;
import java.util.stream.Stream;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;

/** Chooses the key of a match among its column pairs. */
record KeyChoice(TableShape source, TableShape target, List<ColumnPair> pairs) {
    /**
     * The places of the columns that the user names; what is wrong with them is added to the problems.
     *
     * @param names source names
     */
    List<Integer> named(List<String> names, List<String> problems) {
        for (String name : names) {
            if (placeOf(name, true) < 0) {
                problems.add("key column is not compared: " + source.name() + "." + name
                        + "; choose columns that both sides have");
            }
        }
        return names.stream().map(name -> placeOf(name, true)).toList();
    }

    /** The best key that both sides have; empty when there is none. */
    List<Integer> proposed() {
        // Candidates from best to least; the first one whose columns are all paired is taken.
        Stream<List<Integer>> candidates = Stream.concat(
                keysOf(source).map(k -> places(k, true)), keysOf(target).map(k -> places(k, false)));
        return candidates.filter(places -> !places.contains(-1)).findFirst().orElse(List.of());
    }

    /** One whose columns may be NULL does not tell rows apart: any number of them may have NULL there. */
    private static Stream<KeyShape> keysOf(TableShape table) {
        return table.keys().stream().filter(k -> table.holdsUnique(k.columns()));
    }

    /** What to say where no key was found: also of those that are none for NULL alone. */
    MatchNote.NoKey noKey() {
        return Stream.of(source, target)
                .flatMap(t -> t.keys().stream().filter(k -> !t.holdsUnique(k.columns())))
                .map(KeyShape::columns)
                .findFirst()
                .map(MatchNote.NoKey::new)
                .orElseGet(() -> new MatchNote.NoKey(List.of()));
    }

    private List<Integer> places(KeyShape key, boolean ofSource) {
        return key.columns().stream().map(c -> placeOf(c, ofSource)).toList();
    }

    private int placeOf(String column, boolean ofSource) {
        String exact = (ofSource ? source : target)
                .column(column)
                .map(ColumnShape::name)
                .orElse(column);
        for (int i = 0; i < pairs.size(); i++) {
            String name = ofSource
                    ? pairs.get(i).source().name()
                    : pairs.get(i).target().name();
            if (name.equals(exact)) {
                return i;
            }
        }
        return -1;
    }
}
