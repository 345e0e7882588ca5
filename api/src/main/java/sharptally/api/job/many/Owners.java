package sharptally.api.job.many;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.union.UnionAddress;
import sharptally.core.types.Value;
import sharptally.formats.run.RunFolder;

/**
 * To which part of a union each finding of a match belongs, as it comes to light while the parts are looked at one after the
 * other. Memory: a key for each row that differs. Used by one thread.
 */
final class Owners {
    private final RunFolder run;
    private final TableMatch match;
    private final UnionAddress union;
    private final Optional<String> missingTo;
    private final OptionalInt by;
    private final Map<List<Value>, FindingKind> fed = new HashMap<>();
    private long missing;
    private long others;
    private long repeated;
    private long given;
    private long found;
    private long misplaced;
    private boolean counted;

    private Owners(RunFolder run, TableMatch match, UnionAddress union, Optional<String> missingTo) {
        this.run = run;
        this.match = match;
        this.union = union;
        this.missingTo = missingTo;
        this.by = IntStream.range(0, match.pairs().size())
                .filter(i -> union.by()
                        .filter(match.pairs().get(i).target().name()::equalsIgnoreCase)
                        .isPresent())
                .findFirst();
    }

    static Owners of(RunFolder run, TableMatch match, UnionAddress union, Optional<String> missingTo) {
        return new Owners(run, match, union, missingTo);
    }

    /** Findings of all parts together, but for those of keys that stand more than once. */
    void feed(Consumer<Finding> to) {
        fed.clear();
        run.forEach(match, finding -> {
            boolean alone = !isRepeated(finding);
            if (!counted) {
                count(finding, alone);
            }
            if (alone) {
                fed.put(id(finding), finding.kind());
                to.accept(finding);
            }
        });
        counted = true;
    }

    private void count(Finding finding, boolean alone) {
        if (!alone) {
            repeated += finding.kind() == FindingKind.REPEATED ? 0 : 1;
        } else if (finding.kind() == FindingKind.MISSING) {
            missing++;
        } else {
            others++;
        }
    }

    private static boolean isRepeated(Finding finding) {
        return finding instanceof Finding.Repeated
                || finding instanceof Finding.Missing m && m.among()
                || finding instanceof Finding.Extra e && e.among();
    }

    private List<Value> id(Finding finding) {
        if (!match.wholeRow()) {
            return finding.key();
        }
        return finding instanceof Finding.Missing m
                ? m.row()
                : finding instanceof Finding.Extra e ? e.row() : finding.key();
    }

    /** Hands on what belongs to one part of what differs there. */
    FindingSink sink(String part, FindingSink to) {
        long givenBefore = given;
        long foundBefore = found;
        long misplacedBefore = misplaced;
        return new FindingSink() {
            @Override
            public void accept(Finding finding) {
                if (belongs(part, finding)) {
                    to.accept(finding);
                }
            }

            @Override
            public void restart() {
                given = givenBefore;
                found = foundBefore;
                misplaced = misplacedBefore;
                to.restart();
            }
        };
    }

    private boolean belongs(String part, Finding finding) {
        FindingKind before = fed.get(id(finding));
        if (before == null || isRepeated(finding)) {
            return false;
        }
        if (finding instanceof Finding.Missing row) {
            boolean here = before == FindingKind.MISSING
                    && home(row).filter(part::equals).isPresent();
            given += here ? 1 : 0;
            return here;
        }
        if (before == FindingKind.MISSING) {
            return false;
        }
        if (isMisplaced(finding)) {
            misplaced++;
            return false;
        }
        found++;
        return true;
    }

    /** The part in which a row belongs that none has. */
    private Optional<String> home(Finding.Missing row) {
        if (by.isEmpty()) {
            return missingTo;
        }
        String told = row.row().get(by.getAsInt()) instanceof Value.Text text
                ? text.value().strip()
                : "";
        return union.shards().stream()
                .map(UnionAddress.Shard::name)
                .filter(told::equals)
                .findFirst()
                .or(() -> missingTo);
    }

    /** Whether a row lies in another part than its counterpart says: no statement of one part alone can mend that. */
    private boolean isMisplaced(Finding finding) {
        return by.isPresent()
                && finding instanceof Finding.Changed changed
                && changed.differences().stream().anyMatch(d -> d.pair() == by.getAsInt());
    }

    /** Rows that no part has, and that were given to none. */
    long homeless() {
        return missing - given;
    }

    long repeated() {
        return repeated;
    }

    long misplaced() {
        return misplaced;
    }

    /** Rows that were not found as they were, in any part. */
    long moved() {
        return Math.max(0, others - found - misplaced);
    }
}
