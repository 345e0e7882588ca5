package sharptally.core.place.union;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.stream.IntStream;
import sharptally.core.place.Place;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Daemons;
import sharptally.core.shape.TableShape;

/** Checksums of a union: those of its places, worked out at the same time, added range by range. */
record UnionChecksums(List<Place> parts, UnionTables tables) implements Checksums {
    @Override
    public Optional<String> ownForm() {
        List<Optional<String>> forms =
                parts.stream().map(part -> of(part).ownForm()).distinct().toList();
        return forms.size() == 1 ? forms.get(0) : Optional.empty();
    }

    private static Checksums of(Place part) {
        return part.checksums().orElseThrow();
    }

    @Override
    public Optional<Obstacle> problem(SumsRequest request) {
        return IntStream.range(0, parts.size())
                .mapToObj(i -> of(parts.get(i)).problem(in(i, request)))
                .flatMap(Optional::stream)
                .findFirst();
    }

    private SumsRequest in(int place, SumsRequest request) {
        TableShape table = tables.in(place, request.table());
        return new SumsRequest(
                table,
                request.columns().stream()
                        .map(c -> new SumsRequest.Hashed(UnionTables.in(table, c.column()), c.comparedAs(), c.digits()))
                        .toList(),
                UnionTables.in(table, request.key()),
                request.ranges(),
                request.step(),
                request.form());
    }

    @Override
    public Map<Long, RangeSum> sums(SumsRequest request) {
        List<CompletableFuture<Map<Long, RangeSum>>> answers = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            int place = i;
            CompletableFuture<Map<Long, RangeSum>> answer = new CompletableFuture<>();
            Daemons.run("sums-" + (i + 1), () -> {
                try {
                    answer.complete(of(parts.get(place)).sums(in(place, request)));
                } catch (RuntimeException | Error e) {
                    answer.completeExceptionally(e);
                }
            });
            answers.add(answer);
        }
        // A place is used by one thread: whatever fails, all have ended before anybody goes on.
        answers.forEach(answer -> answer.exceptionally(failure -> null).join());
        Map<Long, RangeSum> all = new HashMap<>();
        try {
            answers.forEach(answer -> answer.join().forEach((range, sum) -> all.merge(range, sum, RangeSum::plus)));
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException cause) {
                throw cause;
            }
            throw e;
        }
        return all;
    }

    @Override
    public void cancel() {
        parts.forEach(part -> of(part).cancel());
    }
}
