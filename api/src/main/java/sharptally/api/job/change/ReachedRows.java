package sharptally.api.job.change;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.match.TableMatch;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.script.Change;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.write.ChangeSql;
import sharptally.core.shape.SideEffects.Reaction;

/**
 * Counts rows of other tables that refer to rows which are deleted, so that the database deletes or changes them by itself;
 * as they are in a session's transaction, just before. Rows that refer to others of their own table are left out.
 */
final class ReachedRows {
    private static final int ROWS_PER_COUNT = 200;

    private final ChangeSession session;
    private final ChangeSql sql;
    private final Map<Reaction, Long> rows = new LinkedHashMap<>();

    ReachedRows(ChangeSession session, ChangeSql sql) {
        this.session = session;
        this.sql = sql;
    }

    /** Counts those that these changes reach. */
    void add(TableMatch match, List<Change> changes) {
        List<Change.Delete> deletes = changes.stream()
                .filter(Change.Delete.class::isInstance)
                .map(Change.Delete.class::cast)
                .toList();
        if (deletes.isEmpty()) {
            return;
        }
        for (Reaction reaction : match.target().sideEffects().reactions()) {
            if (!reaction.table().equals(match.target().name())) {
                rows.merge(reaction, session.count(sql.reached(match.target(), reaction, deletes)), Long::sum);
            }
        }
    }

    /** Counts those that all deletes of one match reach. */
    void addAll(ChangePlan plan, TableMatch wanted) {
        List<Change> waiting = new ArrayList<>();
        plan.play(new ChangeSink() {
            @Override
            public void beginTable(TableMatch match, Stage stage) {
                waiting.clear();
            }

            @Override
            public void change(TableMatch match, Change change) {
                if (match.equals(wanted) && waiting.add(change) && waiting.size() == ROWS_PER_COUNT) {
                    endTable(match, Stage.DELETES, 0);
                }
            }

            @Override
            public void endTable(TableMatch match, Stage stage, long rows) {
                add(match, waiting);
                waiting.clear();
            }
        });
    }

    /** What becomes of them, with counts; empty where there are none. */
    Optional<String> told() {
        String told = rows.entrySet().stream()
                .filter(e -> e.getValue() > 0)
                .map(e -> e.getValue()
                        + (e.getValue() == 1 ? " row of " : " rows of ")
                        + e.getKey().table()
                        + (e.getKey().deletes() ? " deleted" : " changed"))
                .collect(Collectors.joining(", "));
        return told.isEmpty() ? Optional.empty() : Optional.of(told);
    }
}
