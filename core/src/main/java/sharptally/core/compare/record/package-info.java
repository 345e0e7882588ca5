/**
 * Comparing rows that lie in files of the same kind: equal records are found by hashes of their fields, without making values
 * of them, and only the others are read as rows. Start at {@code RecordComparison}.
 */
@NullMarked
package sharptally.core.compare.record;

import org.jspecify.annotations.NullMarked;
