package sharptally.cli.browse;

import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import sharptally.core.finding.FindingKind;
import sharptally.formats.run.FindingIndex;

/** The rows of one table, as they are filtered now. */
final class Rows {
    final FindingIndex index;
    Optional<FindingKind> kind = Optional.empty();
    String search = "";
    int[] places;
    int at;
    int first;

    Rows(FindingIndex index) {
        this.index = index;
        this.places = index.places(EnumSet.allOf(FindingKind.class), "");
    }

    void filter() {
        Set<FindingKind> kinds = kind.<Set<FindingKind>>map(EnumSet::of).orElse(EnumSet.allOf(FindingKind.class));
        places = index.places(kinds, search);
        at = 0;
        first = 0;
    }
}
