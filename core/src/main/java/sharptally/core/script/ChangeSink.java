package sharptally.core.script;

import sharptally.core.match.TableMatch;

/** Receives the changes of a plan in the order in which they must be made. */
public interface ChangeSink {
    void beginTable(TableMatch match, Stage stage);

    void change(TableMatch match, Change change);

    /**
     * @param rows how many rows the changes since {@link #beginTable} must have touched
     */
    void endTable(TableMatch match, Stage stage, long rows);

    /** What is done to one table in one go. */
    enum Stage {
        DELETES("deletes"),
        ASIDE("values set aside that rows exchange, as no two may have the same"),
        UPDATES("updates"),
        INSERTS("inserts"),
        UNREFERENCES("references within the table that would keep rows from being deleted"),
        REFERENCES("references within the table, now that all its rows are there");

        private final String title;

        Stage(String title) {
            this.title = title;
        }

        public String title() {
            return title;
        }
    }
}
