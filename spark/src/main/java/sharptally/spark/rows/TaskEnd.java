package sharptally.spark.rows;

import org.apache.spark.TaskContext;
import org.apache.spark.util.TaskCompletionListener;

/** What is to be done when the task of this thread ends, whatever its end. */
public final class TaskEnd {
    private TaskEnd() {}

    public static void run(Runnable last) {
        TaskCompletionListener listener = context -> last.run();
        TaskContext.get().addTaskCompletionListener(listener);
    }
}
