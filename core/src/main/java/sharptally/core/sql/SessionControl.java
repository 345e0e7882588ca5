package sharptally.core.sql;

import java.time.Duration;
import java.util.List;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** What a session sets before it changes rows, and what it sets back: locks, foreign keys, triggers, numbers that go on.
 * Immutable; safe to share between threads. */
public interface SessionControl extends SqlTerms {
    /**
     * Lines by which a column's own numbers go on behind the greatest one that stands in the table.
     *
     * @param column one that numbers rows by itself
     */
    default List<String> numbersGoOn(TableShape table, ColumnShape column) {
        return List.of();
    }

    /** Whether {@link #numbersGoOn} ends the transaction, and so comes behind it. */
    default boolean numbersGoOnAfterwards() {
        return false;
    }

    /** Statements by which a session waits only so long for a lock; none where the engine never waits, or can't be told. */
    default List<String> lockWait(Duration atMost) {
        return List.of();
    }

    /** Whether {@link #lockWait} is said within a transaction, and holds until it ends; else before it. */
    default boolean lockWaitOfTransaction() {
        return false;
    }

    /**
     * Statements by which others wait before they change a table until the transaction ends; none where a guard that looks
     * for rows locks what it finds and what it does not find.
     */
    default List<String> holdStill(TableName table) {
        return List.of();
    }

    /** Statements that put checks of foreign keys off to the end of a transaction, as far as the engine can. */
    default List<String> deferReferences() {
        return List.of();
    }

    /** Statements that make these checks now; none where they are made at each statement. */
    default List<String> checkReferences() {
        return List.of();
    }

    /**
     * Statements that make a place whole again after changes that could not be taken back in the usual way, as the engine
     * gave them up by itself.
     */
    default List<String> recovery() {
        return List.of();
    }

    /** Statements that keep the triggers of a table from running; empty where the engine can't. */
    default List<String> triggersOff(TableShape table) {
        return List.of();
    }

    /** Whether {@link #triggersOff} and {@link #triggersOn} end the transaction, and so come before and behind it. */
    default boolean triggersOutside() {
        return false;
    }

    /** Statements that take {@link #triggersOff} back. */
    default List<String> triggersOn(TableShape table) {
        return List.of();
    }
}
