package sharptally.api.job;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Predicate;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.value.FindingJson;
import sharptally.report.text.HistoryText.Line;
import sharptally.report.text.HistoryText.Moved;

/**
 * Earlier runs and what became of their findings. A finding is known again by its match, kind and key; of each, 64 bits of
 * a hash are held, so two of a million are taken for one with odds below one in ten million.
 */
public final class HistoryJob {
    private static final long MAX_HELD = 5_000_000;

    private HistoryJob() {}

    /**
     * The last runs that are wanted, in the order in which they began.
     *
     * @param last how many at most
     */
    public static List<Line> of(Path runs, Predicate<RunFolder> wanted, int last) {
        List<RunFolder> all = RunFolder.all(runs, wanted);
        List<RunFolder> compared = all.stream().map(RunFolder::asCompared).toList();
        int from = Math.max(0, all.size() - last);
        List<Line> lines = new ArrayList<>();
        Map<RunFolder, Optional<long[]>> held = new IdentityHashMap<>();
        for (int i = from; i < all.size(); i++) {
            RunFolder run = compared.get(i);
            // Runs over other rows, and interrupted ones, tell nothing of what is new or no more.
            Optional<RunFolder> before = run.lastHeldAgainst(compared.subList(0, i));
            Optional<long[]> then = before.flatMap(b -> held.computeIfAbsent(b, HistoryJob::held));
            Optional<long[]> now = before.flatMap(b -> held.computeIfAbsent(run, HistoryJob::held));
            RunSummary looked = all.get(i).summary();
            OptionalLong left = looked.isRechecked() ? OptionalLong.of(looked.differences()) : OptionalLong.empty();
            lines.add(new Line(run.summary(), now.flatMap(n -> then.map(e -> moved(e, n))), left));
        }
        return lines;
    }

    private static Moved moved(long[] before, long[] now) {
        long stayed = 0;
        int b = 0;
        int n = 0;
        while (b < before.length && n < now.length) {
            int order = Long.compare(before[b], now[n]);
            if (order == 0) {
                stayed++;
            }
            b += order <= 0 ? 1 : 0;
            n += order >= 0 ? 1 : 0;
        }
        return new Moved(now.length - stayed, before.length - stayed, stayed);
    }

    private static Optional<long[]> held(RunFolder run) {
        long expected = run.summary().differences();
        if (run.summary().state() != RunState.COMPLETE || expected > MAX_HELD) {
            return Optional.empty();
        }
        long[][] hashes = {new long[(int) expected + 16]};
        int[] count = {0};
        MessageDigest digest = digest();
        for (TableMatch match : run.matches()) {
            FindingJson form = new FindingJson(match);
            run.forEach(match, finding -> {
                if (finding instanceof Finding.Repeated && finding.key().isEmpty()) {
                    return;
                }
                if (count[0] == hashes[0].length) {
                    hashes[0] = Arrays.copyOf(hashes[0], count[0] * 2);
                }
                String name = match.name() + '\n' + finding.kind().word() + '\n' + form.identity(finding);
                byte[] hash = digest.digest(name.getBytes(StandardCharsets.UTF_8));
                hashes[0][count[0]++] = java.nio.ByteBuffer.wrap(hash).getLong();
            });
        }
        long[] found = Arrays.copyOf(hashes[0], count[0]);
        Arrays.sort(found);
        return Optional.of(found);
    }

    private static MessageDigest digest() {
        try {
            return MessageDigest.getInstance("MD5");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has MD5", e);
        }
    }
}
