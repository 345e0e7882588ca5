package sharptally.core.shape;

import java.util.List;

/**
 * What a database does besides what a statement says, when rows of a table are changed.
 *
 * @param setOnUpdate columns that get another value by themselves whenever a row is updated, unless they are given one
 * @param reactions what becomes of rows of other tables that refer to rows that are deleted
 * @param transactional whether changes can be taken back; else what was done before a failure stays
 * @param inherited whether other tables inherit from this one, whose rows a statement would see and change as if they were
 *     its own
 * @param triggers whether there are triggers, whatever they do
 * @param running the triggers that are on, where the engine turns off each by its name
 */
public record SideEffects(
        List<String> setOnUpdate,
        List<Reaction> reactions,
        boolean transactional,
        boolean inherited,
        boolean triggers,
        List<TableName> running) {
    public static final SideEffects NONE = new SideEffects(List.of(), List.of(), true, false);

    /** Without triggers, as far as is known. */
    public SideEffects(List<String> setOnUpdate, List<Reaction> reactions, boolean transactional, boolean inherited) {
        this(setOnUpdate, reactions, transactional, inherited, false, List.of());
    }

    SideEffects withTriggers(boolean there) {
        return new SideEffects(setOnUpdate, reactions, transactional, inherited, there, running);
    }

    /** With triggers, all of whose names are known. */
    public SideEffects withRunning(List<TableName> names) {
        return new SideEffects(setOnUpdate, reactions, transactional, inherited, !names.isEmpty(), names);
    }

    public SideEffects {
        setOnUpdate = List.copyOf(setOnUpdate);
        reactions = List.copyOf(reactions);
        running = List.copyOf(running);
    }

    /**
     * Rows of a table that are changed by the database itself when a row goes that they refer to.
     *
     * @param columns of the table that refers, in the order of {@code referred}
     * @param referred columns of the table from which rows are deleted
     * @param deletes whether they are deleted too; else the reference becomes NULL or a default
     */
    public record Reaction(TableName table, List<String> columns, List<String> referred, boolean deletes) {
        public Reaction {
            columns = List.copyOf(columns);
            referred = List.copyOf(referred);
        }
    }
}
