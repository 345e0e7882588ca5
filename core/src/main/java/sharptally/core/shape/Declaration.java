package sharptally.core.shape;

import java.util.List;

/**
 * What a database declares of a table beside its columns.
 *
 * @param columns to which it applies, in its order; an expression stands as its text
 * @param name what the database calls it; of a right, who has it
 * @param text a condition, a value or what else it says, in the database's own words; empty where it says nothing
 */
public record Declaration(Sort sort, List<String> columns, String name, String text) {
    /** What it is, in the order in which it is told. */
    public enum Sort {
        KEY("primary key"),
        UNIQUE("unique"),
        REFERENCE("foreign key"),
        CHECK("check"),
        DEFAULT("default"),
        NUMBERING("numbers given"),
        TRIGGER("trigger"),
        INDEX("index"),
        RIGHT("rights");

        private final String words;

        Sort(String words) {
            this.words = words;
        }

        /** As it is told. */
        public String words() {
            return words;
        }
    }

    public Declaration {
        columns = List.copyOf(columns);
    }
}
