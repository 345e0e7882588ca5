package sharptally.spark.work;

import java.io.Serializable;
import java.nio.file.Path;
import java.util.function.BooleanSupplier;
import org.apache.spark.TaskContext;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Progress;
import sharptally.core.compare.stream.RateLimit;
import sharptally.core.compare.stream.RowMerge;
import sharptally.core.match.TableMatch;
import sharptally.spark.send.Sent;

/** A match, as text. */
public record SentMatch(String text) implements Serializable {
    public static SentMatch of(TableMatch match) {
        return new SentMatch(Sent.text(match));
    }

    public TableMatch read() {
        return Sent.match(text);
    }

    /** What is made of its rows here. */
    public static RowMerge merge(TableMatch match) {
        return new RowMerge(match, here());
    }

    /** On an executor, in its temporary folder, until the task is told to end. */
    static ComparisonContext here() {
        TaskContext task = TaskContext.get();
        BooleanSupplier ended = () -> task != null && task.isInterrupted();
        return new ComparisonContext(temporary(), Progress.NONE, ended, RateLimit.NONE);
    }

    static Path temporary() {
        return Path.of(System.getProperty("java.io.tmpdir"));
    }
}
