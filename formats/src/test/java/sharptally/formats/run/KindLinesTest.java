package sharptally.formats.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.EnumSet;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.RepeatedTest;
import sharptally.core.finding.FindingKind;

/** Lines of kinds that are not wanted, and no others, are passed over, whatever their lengths and the sizes of reads. */
class KindLinesTest {
    @RepeatedTest(60)
    void onlyUnwantedLinesArePassedOver() throws IOException {
        Random random = new Random();
        long seed = random.nextLong();
        random.setSeed(seed);
        Set<FindingKind> wanted = EnumSet.noneOf(FindingKind.class);
        for (FindingKind kind : FindingKind.values()) {
            if (random.nextBoolean()) {
                wanted.add(kind);
            }
        }
        StringBuilder all = new StringBuilder();
        StringBuilder expected = new StringBuilder();
        long passed = 0;
        int lines = random.nextInt(300);
        for (int i = 0; i < lines; i++) {
            boolean ours = random.nextInt(10) > 0;
            FindingKind kind = FindingKind.values()[random.nextInt(FindingKind.values().length)];
            int length = random.nextInt(20) == 0 ? random.nextInt(200_000) : random.nextInt(300);
            String end = i + 1 == lines && random.nextBoolean() ? "" : "\n";
            String line =
                    (ours ? "{\"kind\":\"" + kind.word() + "\",\"text\":\"" : "{ ") + "ü".repeat(length) + "\"}" + end;
            all.append(line);
            if (ours && !wanted.contains(kind)) {
                passed++;
            } else {
                expected.append(line);
            }
        }
        KindLines in = new KindLines(trickling(all.toString().getBytes(StandardCharsets.UTF_8), random), wanted);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        byte[] buffer = new byte[1 + random.nextInt(100_000)];
        for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
            out.write(buffer, 0, read);
        }
        assertThat(out.toString(StandardCharsets.UTF_8)).as("seed %d", seed).isEqualTo(expected.toString());
        assertThat(in.passed()).as("seed %d", seed).isEqualTo(passed);
    }

    /** Hands out as many bytes at a time as it likes. */
    private static InputStream trickling(byte[] bytes, Random random) {
        return new ByteArrayInputStream(bytes) {
            @Override
            public synchronized int read(byte[] into, int offset, int length) {
                return super.read(into, offset, Math.min(length, 1 + random.nextInt(70_000)));
            }
        };
    }
}
