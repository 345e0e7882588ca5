package sharptally.core.fault;

/** What would help after a failure; whoever tells the user knows how it is asked for there. */
public enum Hint {
    /** Nothing beyond what is said already. */
    NONE(""),
    OTHER_METHOD("leave the choice of the method to the program"),
    ALL_KEYS("compare all keys"),
    CONDITION("narrow the rows by a condition"),
    KEY("name a key that tells rows apart"),
    CHECK_TABLES("check which tables are chosen"),
    CHECK_LEFT_OUT("check which columns are left out"),
    CHECK_PAIRS("check which columns are paired"),
    ONE_TABLE("name one table"),
    SCHEMA_OR_TABLE("choose a schema, name one table on each side, or write a job file"),
    SHORTER_BACKUP("give the tables that keep rows a shorter ending"),
    ALLOW_PARTIAL("allow changes that can't be taken back together, if that may be"),
    TRIGGERS_BY_HAND("let triggers run, or drop them for the time being by hand"),
    ROOM_FOR_OUTPUT("make room, or choose another file for it"),
    OTHER_OUTPUT("choose another file for it"),
    ROOM_FOR_RUNS("make room, or choose another folder for runs"),
    OTHER_RUNS("choose another folder for runs"),
    RANGE_KEY("name the columns that ranges are made of"),
    LEAVE_OUT_COLUMN("leave it out"),
    LEAVE_OUT_MATCH("leave this match out"),
    OLDER("compare again, or recheck it"),
    ALLOW_CASCADE("choose those rows too"),
    ALLOW_NO_UNDO("it holds what its own constraints refuse"),
    CHECK_CONDITION("check the condition: it is SQL, and has to fit both databases"),
    NO_CONDITION("leave the conditions out, or load the file into a database and compare that"),
    RESUME("resume the run"),
    SELECT("make a selection from this run"),
    SELECT_AGAIN("name that run, or choose again"),
    DRIVER_JAR("put its jar where drivers are looked for"),
    CHECK_DRIVER_JAR("check where drivers are looked for");

    private final String words;

    Hint(String words) {
        this.words = words;
    }

    /** What to do, in words that name no option. */
    public String words() {
        return words;
    }
}
