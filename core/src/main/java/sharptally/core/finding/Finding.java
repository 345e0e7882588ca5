package sharptally.core.finding;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.types.Value;

/**
 * One differing row. Keys are in the order of the match's key columns and empty where the whole row is the key. Values
 * are those that the side itself holds, not the forms in which they were compared.
 */
public sealed interface Finding {
    /** The longest value, in characters or bytes, that is kept of a column in which a changed row is the same. */
    int MAX_KEPT = 2_000;

    FindingKind kind();

    List<Value> key();

    /** Where the row stands on each side, as far as that is known. */
    default Positions positions() {
        if (this instanceof Missing missing) {
            return new Positions(missing.position, Optional.empty());
        } else if (this instanceof Extra extra) {
            return new Positions(Optional.empty(), extra.position);
        }
        return Positions.UNKNOWN;
    }

    /**
     * The same seen from the other side.
     *
     * @param pairs how many columns are compared; what a row has beyond them is left away
     */
    default Finding reversed(int pairs) {
        if (this instanceof Missing missing) {
            return new Extra(missing.key, missing.row, missing.times, missing.among, missing.both, missing.position);
        } else if (this instanceof Extra extra) {
            return new Missing(
                    extra.key, extra.row.subList(0, pairs), extra.times, extra.among, extra.both, extra.position);
        } else if (this instanceof Changed changed) {
            List<Difference> differences = changed.differences.stream()
                    .map(d -> new Difference(d.pair(), d.target(), d.source()))
                    .toList();
            List<Difference> same = changed.same.stream()
                    .map(d -> new Difference(d.pair(), d.target(), d.source()))
                    .toList();
            return new Changed(changed.targetKey, changed.key, differences, same, changed.positions.reversed());
        }
        Repeated repeated = (Repeated) this;
        return new Repeated(repeated.key, repeated.inTarget, repeated.inSource);
    }

    /**
     * A row that only the source has.
     *
     * @param row a value for each column that is read from the source
     * @param times how many such rows more than the target
     * @param among whether other rows with this key exist, so that the key alone does not identify the row
     * @param both how many such rows both sides have; empty where that is not known
     * @param position where the row stands, such as the line of a file; empty where the side does not tell
     */
    record Missing(
            List<Value> key, List<Value> row, long times, boolean among, OptionalLong both, Optional<String> position)
            implements Finding {
        public Missing {
            key = List.copyOf(key);
            row = List.copyOf(row);
        }

        /** Of which it is not known how many both sides have. */
        public Missing(List<Value> key, List<Value> row, long times, boolean among) {
            this(key, row, times, among, OptionalLong.empty(), Optional.empty());
        }

        @Override
        public FindingKind kind() {
            return FindingKind.MISSING;
        }
    }

    /** A row that only the target has; the parts are as for {@link Missing}, the row as read from the target. */
    record Extra(
            List<Value> key, List<Value> row, long times, boolean among, OptionalLong both, Optional<String> position)
            implements Finding {
        public Extra {
            key = List.copyOf(key);
            row = List.copyOf(row);
        }

        /** Of which it is not known how many both sides have. */
        public Extra(List<Value> key, List<Value> row, long times, boolean among) {
            this(key, row, times, among, OptionalLong.empty(), Optional.empty());
        }

        @Override
        public FindingKind kind() {
            return FindingKind.EXTRA;
        }
    }

    /**
     * A row that both sides have, with a compared column that differs.
     *
     * @param key the key as the source holds it
     * @param targetKey the key as the target holds it: equal in meaning, maybe not in form
     * @param same what both sides hold in the other compared columns, in which the row is the same; those are left out
     *     whose values are too long to be kept
     * @param positions where the row stands on both sides
     */
    record Changed(
            List<Value> key,
            List<Value> targetKey,
            List<Difference> differences,
            List<Difference> same,
            Positions positions)
            implements Finding {
        public Changed {
            key = List.copyOf(key);
            targetKey = List.copyOf(targetKey);
            differences = List.copyOf(differences);
            same = List.copyOf(same);
        }

        /** Of which it is not known where it stands. */
        public Changed(List<Value> key, List<Value> targetKey, List<Difference> differences, List<Difference> same) {
            this(key, targetKey, differences, same, Positions.UNKNOWN);
        }

        /** Of which only what differs is known. */
        public Changed(List<Value> key, List<Value> targetKey, List<Difference> differences) {
            this(key, targetKey, differences, List.of(), Positions.UNKNOWN);
        }

        @Override
        public FindingKind kind() {
            return FindingKind.CHANGED;
        }
    }

    /** A key that should be unique and stands in several rows of a side; rows of it that differ are told apart. */
    record Repeated(List<Value> key, long inSource, long inTarget) implements Finding {
        public Repeated {
            key = List.copyOf(key);
        }

        @Override
        public FindingKind kind() {
            return FindingKind.REPEATED;
        }
    }
}
