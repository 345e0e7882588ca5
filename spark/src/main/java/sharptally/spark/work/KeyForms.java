package sharptally.spark.work;

import java.util.List;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import sharptally.core.compare.stream.RowMerge;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;

/** The columns by which rows of a side are ordered, in their compared forms: the key, or all where there is none. */
public final class KeyForms {
    private final int[] pairs;
    private final List<UnaryOperator<Column>> forms;

    public KeyForms(TableMatch match, Side side) {
        RowMerge merge = SentMatch.merge(match);
        this.pairs = pairs(match);
        this.forms =
                IntStream.of(pairs).mapToObj(pair -> merge.form(pair, side)).toList();
    }

    private static int[] pairs(TableMatch match) {
        return match.wholeRow()
                ? IntStream.range(0, match.pairs().size()).toArray()
                : match.key().stream().mapToInt(i -> i).toArray();
    }

    /** Where these columns are among the compared ones. */
    int[] pairs() {
        return pairs.clone();
    }

    static int count(TableMatch match) {
        return pairs(match).length;
    }

    /** Of the rows of a batch. */
    public List<Column> of(RowBatch batch) {
        return IntStream.range(0, pairs.length)
                .mapToObj(i -> forms.get(i).apply(batch.column(pairs[i])))
                .toList();
    }
}
