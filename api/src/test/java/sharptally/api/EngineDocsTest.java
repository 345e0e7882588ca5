package sharptally.api;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.api.job.CompareJob;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.Context;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.api.job.RequestedLimits;
import sharptally.api.job.RequestedTables;
import sharptally.core.compare.Method;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Engine;
import sharptally.core.place.PlaceAccess;
import sharptally.core.types.Value;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;

/** The engine of {@code docs/architecture.md}, compiled as it stands there and used in a whole comparison. */
class EngineDocsTest {
    @TempDir
    Path folder;

    private static List<Value> reading(long minute, String level) {
        return List.of(new Value.Int(minute), new Value.Decimal(new BigDecimal(level)));
    }

    private static Endpoint feed(Class<?> engine, String name, List<List<Value>> readings) throws Exception {
        Engine made = (Engine) engine.getConstructor(List.class).newInstance(readings);
        return new Endpoint(made, PlaceAccess.of(new Address("feed", name, Optional.empty())));
    }

    private RunFolder compare(Endpoint source, Endpoint target, Method method) {
        JobRequest request = new JobRequest(
                source, target, Optional.empty(), List.of(), List.of(), List.of(), List.of(), Narrowing.NONE, false);
        CompareRequest asked = new CompareRequest(
                new RequestedTables(
                        Optional.of("feed:old"),
                        Optional.of("feed:new"),
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Optional.empty()),
                Narrowing.NONE,
                false,
                true,
                CompareJob.Totals.NONE,
                method,
                Optional.empty(),
                RequestedLimits.NONE,
                CompareRequest.Besides.NONE);
        return new CompareJob(request, asked, folder.resolve("runs"), 1)
                .run(
                        new Context("test", Clock.systemUTC(), folder),
                        Optional.empty(),
                        (match, rows) -> new CompareJob.Watch() {
                            @Override
                            public void rows(long ofSource, long ofTarget) {
                                // nobody follows
                            }

                            @Override
                            public void close() {
                                // nobody follows
                            }
                        },
                        () -> false);
    }

    @Test
    void engineOfThePageIsCompared() throws Exception {
        assertThat(DocExamples.compile("architecture.md", folder)).containsExactly("FeedEngine");
        try (var loader = new URLClassLoader(
                new URL[] {folder.toUri().toURL()}, getClass().getClassLoader())) {
            Class<?> engine = loader.loadClass("FeedEngine");
            // In no order of the key: such a place is sorted here.
            Endpoint old = feed(engine, "old", List.of(reading(3, "1.5"), reading(1, "1.2"), reading(2, "1.25")));
            Endpoint fresh = feed(engine, "new", List.of(reading(1, "1.20"), reading(2, "9"), reading(4, "1")));
            MatchSummary found =
                    compare(old, fresh, Method.AUTO).summary().matches().get(0);
            assertThat(List.of(found.same(), found.changed(), found.missing(), found.extra()))
                    .containsExactly(1L, 1L, 1L, 1L);
            assertThat(compare(old, old, Method.AUTO).summary().exitCode()).isZero();
            assertThat(compare(old, fresh, Method.CHECKSUM)
                            .summary()
                            .matches()
                            .get(0)
                            .failure())
                    .hasValueSatisfying(why -> assertThat(why).contains("can't compare by method checksum"));
            assertThatThrownBy(old::openForChanges)
                    .isInstanceOf(ToolException.class)
                    .hasMessageContaining("this can only be read, not changed: feed:old");
        }
    }
}
