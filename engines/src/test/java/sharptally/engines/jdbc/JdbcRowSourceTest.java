package sharptally.engines.jdbc;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.engines.jdbc.JdbcRowSource.Release;

class JdbcRowSourceTest {
    private final List<Release> released = new ArrayList<>();
    private final CountDownLatch reading = new CountDownLatch(1);
    private final CountDownLatch cancelled = new CountDownLatch(1);
    private Optional<CompletableFuture<Optional<RowBatch>>> reader = Optional.empty();

    /** Three rows, behind which the reader waits until the query is cancelled, if it is to. */
    private JdbcRowSource source(boolean waits) {
        return new JdbcRowSource(
                new BulkReading.Stream() {
                    private int row;

                    @Override
                    public boolean next(Column[] columns) {
                        if (row == 3) {
                            reading.countDown();
                            await(waits);
                            return false;
                        }
                        columns[0].addInt(row++);
                        return true;
                    }

                    /** The reading thread comes to the end just then. */
                    @Override
                    public void cancel() {
                        cancelled.countDown();
                        reader.orElseThrow().join();
                    }
                },
                1,
                Optional.empty(),
                "here",
                released::add);
    }

    private void await(boolean waits) {
        try {
            if (waits) {
                cancelled.await();
            }
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The server may still end whatever is asked next on this connection. */
    @Test
    void whatWasCancelledIsSpentEvenIfItHadJustEnded() throws Exception {
        JdbcRowSource source = source(true);
        reader = Optional.of(CompletableFuture.supplyAsync(source::next));
        reading.await();
        source.close();
        assertThat(reader.get().join().orElseThrow().rows()).isEqualTo(3);
        assertThat(released).containsExactly(Release.SPENT);
    }

    @Test
    void whatWasReadToItsEndIsUsedAgain() {
        JdbcRowSource source = source(false);
        assertThat(source.next().orElseThrow().rows()).isEqualTo(3);
        source.close();
        source.close();
        assertThat(released).containsExactly(Release.REUSABLE);
    }
}
