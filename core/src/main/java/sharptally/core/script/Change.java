package sharptally.core.script;

import java.util.List;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/** What is to be done to one row of the target (or to several rows that are all alike). */
public sealed interface Change {
    /** A column of the target and a value for it, in terms of the target's type. */
    record Field(ColumnShape column, Value value) {}

    /**
     * @param key the fields whose absence is the guard; empty when the database itself refuses a second such row, or
     *     when other such rows may be there
     */
    record Insert(List<Field> row, List<Field> key) implements Change {
        public Insert {
            row = List.copyOf(row);
            key = List.copyOf(key);
        }
    }

    /**
     * @param key what identifies the row
     * @param before what the changed columns held when they were compared
     * @param after what they are to hold
     * @param others what other columns held, which are not changed
     * @param lookedAt whether another change of the same plan looks whether the rest of the row is as it was
     */
    record Update(List<Field> key, List<Field> before, List<Field> after, List<Field> others, boolean lookedAt)
            implements Change {
        public Update {
            key = List.copyOf(key);
            before = List.copyOf(before);
            after = List.copyOf(after);
            others = List.copyOf(others);
        }

        /** Of a row that another change of the same plan looks at. */
        public Update(List<Field> key, List<Field> before, List<Field> after) {
            this(key, before, after, List.of(), true);
        }
    }

    /**
     * @param row what the row held, key included; key columns first
     * @param keyColumns how many of them identify the row; 0 where all do
     * @param oneOfMany other rows may be just like it, and only one is to go
     */
    record Delete(List<Field> row, int keyColumns, boolean oneOfMany) implements Change {
        public Delete {
            row = List.copyOf(row);
        }
    }
}
