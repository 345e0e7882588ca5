package sharptally.core.compare;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.shared.SharedPlace;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

@Timeout(120)
class SharedPlaceTest {
    private static final List<ColumnShape> COLUMNS = List.of(column("id", Kind.INTEGER), column("level", Kind.TEXT));
    private static final TableShape TABLE =
            new TableShape(TableName.of("rows"), false, COLUMNS, List.of(), List.of(), false);

    private final AtomicInteger readings = new AtomicInteger();
    private final AtomicInteger openReadings = new AtomicInteger();
    private final AtomicInteger sums = new AtomicInteger();
    private final AtomicInteger openPlaces = new AtomicInteger();

    private static ColumnShape column(String name, Kind kind) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), true, Generation.NONE, Optional.empty());
    }

    /** Whoever uses one place from two threads at once, or reads two things over one of its connections, fails. */
    private Place place(List<List<Value>> rows, int perBatch, int failsAt) {
        openPlaces.incrementAndGet();
        ListPlace list = new ListPlace(TABLE, rows, perBatch);
        AtomicInteger busy = new AtomicInteger();
        Checksums checksums = (Checksums) Proxy.newProxyInstance(
                getClass().getClassLoader(), new Class<?>[] {Checksums.class}, (proxy, method, arguments) -> {
                    if (!method.getName().equals("sums")) {
                        return method.getName().equals("cancel") ? null : Optional.empty();
                    }
                    assertEquals(1, busy.incrementAndGet(), "two ask one connection");
                    Thread.sleep(1);
                    busy.decrementAndGet();
                    sums.incrementAndGet();
                    return Map.of(1L, RangeSum.NOTHING);
                });
        return (Place) Proxy.newProxyInstance(
                getClass().getClassLoader(), new Class<?>[] {Place.class}, (proxy, method, arguments) -> {
                    switch (method.getName()) {
                        case "another":
                            return place(rows, perBatch, failsAt);
                        case "close":
                            openPlaces.decrementAndGet();
                            return null;
                        case "checksums":
                            return Optional.of(checksums);
                        case "read":
                            assertEquals(1, busy.incrementAndGet(), "two read one connection");
                            readings.incrementAndGet();
                            openReadings.incrementAndGet();
                            return counted(list.read((ReadRequest) arguments[0]), busy, failsAt);
                        default:
                            try {
                                return method.invoke(list, arguments);
                            } catch (InvocationTargetException e) {
                                throw e.getCause();
                            }
                    }
                });
    }

    private RowSource counted(RowSource rows, AtomicInteger busy, int failsAt) {
        AtomicInteger batches = new AtomicInteger();
        AtomicInteger closed = new AtomicInteger();
        return new RowSource() {
            @Override
            public Optional<RowBatch> next() {
                if (batches.getAndIncrement() == failsAt) {
                    throw new ToolException(ErrorKind.READ, "the disk is on fire", "rows", "");
                }
                return rows.next();
            }

            @Override
            public void close() {
                if (closed.getAndIncrement() == 0) {
                    openReadings.decrementAndGet();
                    busy.decrementAndGet();
                }
            }
        };
    }

    private static List<List<Value>> rows(int number) {
        return IntStream.range(0, number)
                .mapToObj(i -> List.<Value>of(new Value.Int(i), new Value.Text("level " + i % 97)))
                .toList();
    }

    private static ReadRequest request(int kind) {
        return new ReadRequest(TABLE, COLUMNS, List.of()).skipping(kind);
    }

    /** Reads to the end, or so many rows; some wait now and then. */
    private static List<List<Value>> read(Place place, ReadRequest request, int most, Random random) throws Exception {
        List<List<Value>> all = new ArrayList<>();
        boolean slow = random.nextInt(3) == 0;
        try (RowSource source = place.read(request)) {
            Optional<RowBatch> batch = source.next();
            while (batch.isPresent() && all.size() < most) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    all.add(batch.get().row(row));
                }
                if (slow && random.nextInt(20) == 0) {
                    Thread.sleep(random.nextInt(3));
                }
                batch = source.next();
            }
        }
        return all;
    }

    /** A reading that was under way when nobody wanted it any more may end a moment later. */
    private void nothingIsLeftOpen() throws InterruptedException {
        for (int i = 0; i < 100 && openReadings.get() + openPlaces.get() != 0; i++) {
            Thread.sleep(20);
        }
        assertEquals(0, openReadings.get(), "readings are left open");
        assertEquals(0, openPlaces.get(), "connections are left open");
    }

    /** Members that ask for this and that in an order of their own, at their own pace, some ending early. */
    @Test
    void everyMemberSeesAllRowsWhoeverElseReads() throws Exception {
        long seed = System.nanoTime();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        ExecutorService threads = Executors.newCachedThreadPool();
        for (int round = 0; round < 60; round++) {
            List<List<Value>> rows = rows(random.nextInt(4) * random.nextInt(3000));
            int members = 1 + random.nextInt(4);
            try (SharedPlace shared = new SharedPlace(
                    place(rows, 1 + random.nextInt(40), -1), members, Duration.ofMillis(random.nextInt(30)))) {
                List<Future<Void>> all = new ArrayList<>();
                for (int m = 0; m < members; m++) {
                    Place member = shared.member();
                    Random own = new Random(random.nextLong());
                    all.add(threads.submit((Callable<Void>) () -> {
                        try (member;
                                Place further = member.another()) {
                            for (int i = 0; i < 6; i++) {
                                ReadRequest request = request(own.nextInt(3));
                                Place asked = own.nextBoolean() ? member : further;
                                if (own.nextInt(4) == 0) {
                                    read(asked, request, own.nextInt(200), own);
                                } else if (own.nextInt(4) == 0) {
                                    // Two at once, the one within the other.
                                    try (RowSource outer = asked.read(request)) {
                                        Optional<RowBatch> begun = outer.next();
                                        assertEquals(rows.isEmpty(), begun.isEmpty());
                                        assertEquals(
                                                rows, read(asked, request(own.nextInt(3)), Integer.MAX_VALUE, own));
                                    }
                                } else {
                                    assertEquals(rows, read(asked, request, Integer.MAX_VALUE, own));
                                }
                                asked.checksums().orElseThrow().sums(sumsOf(own.nextInt(3)));
                            }
                        }
                        return null;
                    }));
                }
                for (Future<Void> one : all) {
                    one.get(60, TimeUnit.SECONDS);
                }
            }
            nothingIsLeftOpen();
        }
        threads.shutdownNow();
    }

    private static SumsRequest sumsOf(int step) {
        return new SumsRequest(
                TABLE, List.of(), COLUMNS.subList(0, 1), List.of(), OptionalLong.of(step + 1), SumsRequest.Form.COMMON);
    }

    /** Who goes the same way reads once, however large the table, and however much later the others come. */
    @Test
    void whatAllWantIsReadOnce() throws Exception {
        List<List<Value>> rows = rows(20_000);
        ExecutorService threads = Executors.newCachedThreadPool();
        try (SharedPlace shared = new SharedPlace(place(rows, 50, -1), 3, Duration.ofSeconds(30))) {
            List<Future<Void>> all = new ArrayList<>();
            for (int m = 0; m < 3; m++) {
                Place member = shared.member();
                int late = m * 300;
                all.add(threads.submit((Callable<Void>) () -> {
                    Thread.sleep(late);
                    for (int i = 0; i < 3; i++) {
                        member.checksums().orElseThrow().sums(sumsOf(i));
                        assertEquals(rows, read(member, request(i), Integer.MAX_VALUE, new Random(late)));
                    }
                    return null;
                }));
            }
            for (Future<Void> one : all) {
                one.get(60, TimeUnit.SECONDS);
            }
            assertEquals(3, readings.get());
            assertEquals(3, sums.get());
            assertEquals(new SharedPlace.Counts(3, 0), shared.counts());
        }
        threads.shutdownNow();
    }

    /** A failure reaches all who read along, and is not kept for those who ask again. */
    @Test
    void aFailureIsEverybodysOnce() throws Exception {
        ExecutorService threads = Executors.newCachedThreadPool();
        try (SharedPlace shared = new SharedPlace(place(rows(5_000), 10, 40), 2, Duration.ofSeconds(30))) {
            CountDownLatch begun = new CountDownLatch(2);
            List<Future<ToolException>> all = new ArrayList<>();
            for (int m = 0; m < 2; m++) {
                Place member = shared.member();
                all.add(threads.submit(() -> {
                    begun.countDown();
                    begun.await();
                    ToolException failure = assertThrows(
                            ToolException.class, () -> read(member, request(0), Integer.MAX_VALUE, new Random(1)));
                    assertEquals(rows(5_000).subList(0, 100), read(member, request(0), 100, new Random(1)));
                    return failure;
                }));
            }
            for (Future<ToolException> one : all) {
                assertTrue(one.get(60, TimeUnit.SECONDS).getMessage().contains("on fire"));
            }
        }
        nothingIsLeftOpen();
        threads.shutdownNow();
    }
}
