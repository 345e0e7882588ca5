package sharptally.core.script.write;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change;
import sharptally.core.sql.ScriptFrame.Precondition;

/** Puts changes of one stage into statements. Used by one thread. */
interface Grouping {
    int NTATEMENT = 200;
    int MAX_SHAPES = 64;

    /** Where statements go. */
    interface Out {
        /** A statement that nothing counts, without its end. */
        void plain(String statement);

        /**
         * A statement that must touch so many rows, without its end.
         *
         * @param first of the changes that it makes
         */
        void counted(
                TableMatch match,
                String statement,
                Supplier<Optional<Precondition>> precondition,
                long rows,
                Change first);

        /** The statement of one change. */
        void alone(TableMatch match, Change change);

        /** What sees to it that the statements since the last check touched so many rows. */
        void check(TableMatch match, long rows);
    }

    void add(TableMatch match, Change change);

    /**
     * Writes what waits, and the check of all.
     *
     * @param rows that the stage must touch
     */
    void end(TableMatch match, long rows);

    /** One statement a row. */
    record Rows(Out out) implements Grouping {
        @Override
        public void add(TableMatch match, Change change) {
            out.alone(match, change);
        }

        @Override
        public void end(TableMatch match, long rows) {
            out.check(match, rows);
        }
    }

    /** Statements of many rows. */
    final class Batches implements Grouping {
        private final ChangeSql sql;
        private final Out out;
        private final Map<List<String>, List<Change>> waiting = new LinkedHashMap<>();
        /** Rows that are inserted if there is anything to do; as VALUES they would be inserted in any case. */
        private final Sets conditional;

        Batches(ChangeSql sql, Out out) {
            this.sql = sql;
            this.out = out;
            this.conditional = new Sets(sql, out);
        }

        @Override
        public void add(TableMatch match, Change change) {
            if (change instanceof Change.Insert && sql.toDo().isPresent()) {
                conditional.add(match, change);
                return;
            }
            Optional<List<String>> shape = sql.shape(match.target(), change);
            if (shape.isEmpty()) {
                out.alone(match, change);
                return;
            }
            List<Change> together = waiting.computeIfAbsent(shape.get(), s -> new ArrayList<>());
            together.add(change);
            if (together.size() == NTATEMENT) {
                flush(match, together);
            } else if (waiting.size() == MAX_SHAPES) {
                flushAll(match);
            }
        }

        private void flushAll(TableMatch match) {
            waiting.values().forEach(together -> flush(match, together));
            waiting.clear();
        }

        private void flush(TableMatch match, List<Change> together) {
            if (together.size() == 1) {
                out.alone(match, together.get(0));
            } else if (!together.isEmpty()) {
                List<Change> all = List.copyOf(together);
                out.counted(
                        match,
                        sql.together(match.target(), all),
                        () -> sql.precondition(match.target(), all),
                        all.size(),
                        all.get(0));
            }
            together.clear();
        }

        @Override
        public void end(TableMatch match, long rows) {
            flushAll(match);
            conditional.end(match, rows);
            out.check(match, rows);
        }
    }

    /** One statement for all changes of a shape, from a temporary table. */
    final class Sets implements Grouping {
        private final ChangeSql sql;
        private final Out out;
        private final Map<List<String>, Waiting> sets = new LinkedHashMap<>();
        private int made;

        Sets(ChangeSql sql, Out out) {
            this.sql = sql;
            this.out = out;
        }

        /** Changes of one shape. */
        private static final class Waiting {
            final SetSql set;
            final Change first;
            final List<Change> changes = new ArrayList<>();
            long rows;

            Waiting(SetSql set, Change first) {
                this.set = set;
                this.first = first;
            }
        }

        @Override
        public void add(TableMatch match, Change change) {
            Optional<List<String>> shape = SetSql.shape(sql, match.target(), change)
                    .filter(s -> sets.containsKey(s) || sets.size() < MAX_SHAPES);
            if (shape.isEmpty()) {
                out.alone(match, change);
                out.check(match, 1);
                return;
            }
            Waiting waiting = sets.get(shape.get());
            if (waiting == null) {
                String name = sql.dialect().temporary("sharp_tally_rows_" + ++made);
                waiting = new Waiting(new SetSql(sql, match.target(), name, change), change);
                sets.put(shape.get(), waiting);
                out.plain(waiting.set.create());
            }
            waiting.changes.add(change);
            if (waiting.changes.size() == NTATEMENT) {
                stage(waiting);
            }
        }

        private void stage(Waiting waiting) {
            if (!waiting.changes.isEmpty()) {
                out.plain(waiting.set.insert(waiting.changes));
                waiting.rows += waiting.changes.size();
                waiting.changes.clear();
            }
        }

        @Override
        public void end(TableMatch match, long rows) {
            sets.values().forEach(this::stage);
            for (Waiting waiting : sets.values()) {
                out.counted(
                        match,
                        waiting.set.statement(),
                        () -> waiting.set.precondition(waiting.rows),
                        waiting.rows,
                        waiting.first);
                out.check(match, waiting.rows);
            }
            sets.values().forEach(waiting -> out.plain(waiting.set.drop()));
            sets.clear();
        }
    }
}
