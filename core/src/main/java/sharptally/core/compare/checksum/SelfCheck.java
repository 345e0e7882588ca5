package sharptally.core.compare.checksum;

import java.util.List;
import java.util.Random;
import sharptally.core.range.KeyRange;
import sharptally.core.types.Value;

/**
 * Reads a small random share of the rows that checksums called the same, so that a hash that tells too little, or a sum in
 * which changes cancel, is found out while it is used: at most one row of a thousand, over all ranges of a match. Safe for
 * use by several threads.
 *
 * <p>A slice speaks against the checksums where both sides have equal sums of it before and after a piece of it is read,
 * three times in a row, and rows of the piece differ all the same. Where rows merely changed meanwhile, the sums change
 * with them.
 */
public final class SelfCheck {
    private static final long ROWS_PER_ROW_READ = 1_000;
    private static final int TIMES_TO_BE_SURE = 3;
    private static final int PIECES_PER_RANGE = 4;

    private final Random random;
    private long passed;

    public SelfCheck(Random random) {
        this.random = random;
    }

    /** Rows that were called the same by their sums. */
    public record Same(KeyRange keys, long rows) {}

    /** How the rows of some keys are looked at. */
    public interface Look {
        /** The keys of a slice as pieces of about so many rows; or some of these pieces, chosen at random. */
        List<KeyRange> pieces(Same slice, long rows);

        /** Whether the sums of both sides over these keys prove the same rows, now. */
        boolean sumsAreEqual(KeyRange keys);

        /** Reads the rows of both sides; whether any differ. */
        boolean rowsDiffer(KeyRange keys);
    }

    /** Thrown when checksums said the same of rows that differ. */
    public static final class Mistrusted extends RuntimeException {
        private final transient KeyRange keys;

        public Mistrusted(KeyRange keys) {
            super("checksums said the same of rows that differ", null, false, false);
            this.keys = keys;
        }

        public KeyRange keys() {
            return keys;
        }
    }

    /**
     * @param slices all that checksums called the same in one range
     * @throws Mistrusted when that was not so
     */
    public void look(List<Same> slices, Look look) {
        List<Same> filled = slices.stream().filter(s -> s.rows() > 0).toList();
        long left = allowance(filled.stream().mapToLong(Same::rows).sum());
        long perPiece = Math.max(1, left / PIECES_PER_RANGE);
        for (; left > 0 && !filled.isEmpty(); left -= perPiece) {
            Same slice = filled.get(random.nextInt(filled.size()));
            List<KeyRange> pieces = look.pieces(slice, Math.min(perPiece, left));
            KeyRange piece = pieces.get(random.nextInt(pieces.size()));
            if (lie(slice, piece, look)) {
                throw new Mistrusted(piece);
            }
        }
    }

    /** How many rows may be read after so many more were passed over. */
    private synchronized long allowance(long rows) {
        passed += rows;
        long allowed = passed / ROWS_PER_ROW_READ;
        passed -= allowed * ROWS_PER_ROW_READ;
        return allowed;
    }

    private static boolean lie(Same slice, KeyRange piece, Look look) {
        for (int i = 0; i < TIMES_TO_BE_SURE; i++) {
            if (!look.sumsAreEqual(slice.keys()) || !look.rowsDiffer(piece) || !look.sumsAreEqual(slice.keys())) {
                return false;
            }
        }
        return true;
    }

    /** A random stretch of whole numbers that holds about so many of the rows between two of them. */
    public KeyRange stretch(long from, long to, long rows, long wanted) {
        double share = Math.min(1, (double) wanted / Math.max(1, rows));
        double span = (double) to - from;
        long width = Math.max(1, (long) (span * share));
        long begin = from + (long) (random.nextDouble() * Math.max(0, span - width));
        return new KeyRange(List.of(new Value.Int(begin)), List.of(new Value.Int(begin + width)));
    }
}
