package sharptally.core.script;

/** Whether changes make the target like the source, or take exactly that back. */
public enum Direction {
    MEND,
    UNDO
}
