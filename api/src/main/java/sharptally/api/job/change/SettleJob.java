package sharptally.api.job.change;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import java.util.stream.Collectors;
import sharptally.api.job.CompareJob;
import sharptally.api.job.Context;
import sharptally.core.accept.Acceptances;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunWriter;
import sharptally.formats.run.SelectionFile;
import sharptally.formats.value.FindingJson;

/**
 * Tells lag from loss: looks again at the rows that differ, until each of them differs no more, or has differed in one and the
 * same way for as long as lag may last. Rows that still change after twice that time are moving: of them nothing is proved.
 *
 * <p>Memory: about 200 bytes a key that differs.
 *
 * @param looking how they are looked at
 * @param limit how long lag may last
 */
public record SettleJob(RecheckJob looking, Duration limit, Context context) {
    private static final long MOST = 1_000_000;
    private static final Duration SHORTEST_PAUSE = Duration.ofMillis(500);
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(30);
    private static final Duration REPLAY_PAUSE = Duration.ofMillis(300);

    /** What a key looked like, and since when. */
    private record Seen(String form, long since) {}

    /**
     * Looks until all is settled or the time is up, and brings the run up to date.
     *
     * @throws sharptally.core.fault.ToolException when it is stopped; the run is then as it was compared
     */
    public RunFolder run(CompareJob.Watcher watcher, BooleanSupplier stopAsked) {
        RunFolder first = looking.run();
        long differing = first.summary().matches().stream()
                .mapToLong(MatchSummary::differences)
                .sum();
        if (first.summary().state() != RunState.COMPLETE || differing == 0) {
            return first;
        }
        RunWriter writer = RunWriter.goOn(first);
        if (differing > MOST) {
            writer.writeSummary(first.summary()
                    .with(
                            first.summary().matches(),
                            "more rows differ than lag explains: they were not looked at until they settle"));
            return RunFolder.open(first.folder());
        }
        Acceptances accepted = first.accepted();
        if (forms(first, accepted).isEmpty()) {
            return first;
        }
        long began = System.nanoTime();
        Map<String, Seen> left = new HashMap<>();
        forms(first, accepted).forEach((key, form) -> left.put(key, new Seen(form, began)));
        Set<String> ever = new java.util.HashSet<>(left.keySet());
        RunFolder now = first;
        boolean replayed = true;
        int looks = 0;
        boolean goesOn = true;
        while (goesOn) {
            RecheckJob.pause(looks == 0 ? Duration.ZERO : pause(), stopAsked);
            replayed &= awaitReplay(began, stopAsked);
            RecheckJob.Looked looked = looking.look(now, RunSummary.SETTLED, watcher, stopAsked);
            looks++;
            RunFolder then = now.holding(looked.after());
            forget(now, first, then, writer);
            now = then;
            long at = System.nanoTime();
            Map<String, String> forms = forms(now, accepted);
            ever.addAll(forms.keySet());
            left.keySet().retainAll(forms.keySet());
            forms.forEach((key, form) -> {
                Seen before = left.get(key);
                if (before == null || !before.form.equals(form)) {
                    left.put(key, new Seen(form, at));
                }
            });
            goesOn = left.values().stream().anyMatch(seen -> at - seen.since < limit.toNanos())
                    && at - began < 2 * limit.toNanos();
        }
        long end = System.nanoTime();
        Set<String> moving = left.entrySet().stream()
                .filter(e -> end - e.getValue().since < limit.toNanos())
                .map(Map.Entry::getKey)
                .collect(Collectors.toSet());
        return keep(
                now,
                writer,
                moving,
                new RunSummary.Settling(
                        limit.toMillis() / 1000.0,
                        looks,
                        context.now().toString(),
                        ever.size() - left.size(),
                        moving.size(),
                        replayed));
    }

    private Duration pause() {
        Duration tenth = limit.dividedBy(10);
        return tenth.compareTo(LONGEST_PAUSE) > 0
                ? LONGEST_PAUSE
                : tenth.compareTo(SHORTEST_PAUSE) < 0 ? SHORTEST_PAUSE : tenth;
    }

    /** Each key that differs and is not accepted, and what it looks like. */
    private static Map<String, String> forms(RunFolder run, Acceptances accepted) {
        Map<String, String> forms = new HashMap<>();
        for (TableMatch match : run.matches()) {
            FindingJson json = new FindingJson(match);
            run.forEach(match, finding -> {
                if (!accepted.holds(match, finding)) {
                    forms.merge(name(match, json, finding), digest(finding), String::concat);
                }
            });
        }
        return forms;
    }

    private static String name(TableMatch match, FindingJson json, Finding finding) {
        return match.name() + "\n" + json.identity(finding);
    }

    private static String digest(Finding finding) {
        try {
            byte[] whole = MessageDigest.getInstance("SHA-256")
                    .digest(finding.toString().getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(whole, 0, 12);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    /** A look's files are of no use once there is a later one; those of the comparison stay. */
    private static void forget(RunFolder before, RunFolder first, RunFolder after, RunWriter writer) {
        Set<String> kept = java.util.stream.Stream.of(first, after)
                .flatMap(run -> run.summary().matches().stream())
                .map(MatchSummary::findings)
                .collect(Collectors.toSet());
        before.summary().matches().stream()
                .map(MatchSummary::findings)
                .filter(file -> !kept.contains(file))
                .forEach(writer::forget);
    }

    /**
     * Waits until a target that replays what is written to the source has come as far as the source was when it was asked. It
     * is connected to for each question: whatever reads there keeps it from replaying.
     *
     * @return whether it has
     */
    private boolean awaitReplay(long began, BooleanSupplier stopAsked) {
        Optional<String> position = asked(looking.source(), Place::writtenTo);
        if (position.isEmpty()) {
            return false;
        }
        Optional<Boolean> replayed = asked(looking.target(), to -> to.hasReplayed(position.get()));
        while (replayed.isPresent() && !replayed.get() && System.nanoTime() - began < 2 * limit.toNanos()) {
            RecheckJob.pause(REPLAY_PAUSE, stopAsked);
            replayed = asked(looking.target(), to -> to.hasReplayed(position.get()));
        }
        return replayed.orElse(false);
    }

    private static <T> T asked(Endpoint endpoint, Function<Place, T> question) {
        try (Place place = endpoint.opened(access -> access.withSnapshot(false)).open()) {
            return question.apply(place);
        }
    }

    private RunFolder keep(RunFolder now, RunWriter writer, Set<String> moving, RunSummary.Settling how) {
        List<MatchSummary> matches = now.summary().matches().stream()
                .map(m -> m.moving(moving.stream()
                        .filter(key -> key.startsWith(m.name() + "\n"))
                        .count()))
                .toList();
        RunFolder settled = now.holding(now.summary().settled(matches, how));
        if (moving.isEmpty()) {
            writer.forget(RunFolder.MOVING);
        } else {
            Map<TableMatch, FindingJson> forms = new HashMap<>();
            SelectionFile.write(
                    now.folder().resolve(RunFolder.MOVING),
                    settled,
                    (match, finding) ->
                            moving.contains(name(match, forms.computeIfAbsent(match, FindingJson::new), finding)));
        }
        writer.writeSummary(settled.summary());
        new AuditLog(settled, context.clock())
                .add("settle", Map.of("looks", how.looks(), "settled", how.settled(), "moving", how.moving()));
        return RunFolder.open(now.folder());
    }
}
