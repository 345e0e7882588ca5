package sharptally.cli.screen;

import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.report.text.ObstacleText;

/** How a failure is told at a command line: with the options that would help. */
public final class HintText {
    private HintText() {}

    /** The line that the user sees. */
    public static String line(ToolException failure) {
        String what = ObstacleText.what(failure);
        return failure.hint() == Hint.NONE && what.equals(failure.what())
                ? String.valueOf(failure.getMessage())
                : ToolException.line(what, failure.where(), options(failure));
    }

    private static String options(ToolException failure) {
        return switch (failure.hint()) {
            case NONE -> failure.mend();
            case OTHER_METHOD -> "leave the choice to --method auto; --explain shows what can be done";
            case ALL_KEYS -> "compare all keys";
            case CONDITION -> "use --where";
            case CHECK_CONDITION ->
                "check --where: it is SQL, and has to fit both databases; --if is the same for all of them";
            case NO_CONDITION ->
                "leave out --where, --if and --changed-since; or load the file into a database and compare that";
            case KEY -> "choose a key that tells rows apart with --key";
            case CHECK_TABLES -> "check --table and the job file";
            case CHECK_LEFT_OUT -> "check --leave-out-column";
            case CHECK_PAIRS -> "check --pair";
            case ONE_TABLE -> "name the table with #table";
            case SCHEMA_OR_TABLE ->
                "choose a schema with ?schema=NAME, name one table on each side with #table, or write a job file";
            case SHORTER_BACKUP -> "give --backup a shorter end";
            case ALLOW_PARTIAL -> "give --allow-partial if that may be";
            case TRIGGERS_BY_HAND -> "leave out --no-triggers, or drop them for the time being by hand";
            case ROOM_FOR_OUTPUT -> "make room, or choose another file with --out";
            case OTHER_OUTPUT -> "choose another file with --out";
            case ROOM_FOR_RUNS -> "make room, or choose another folder with --runs";
            case OTHER_RUNS -> "choose another folder with --runs";
            case RANGE_KEY -> "name columns with --key";
            case LEAVE_OUT_COLUMN -> "leave it out with --leave-out-column";
            case LEAVE_OUT_MATCH -> "leave this match out with --table";
            case OLDER -> "compare again, or recheck it; --allow-old-run takes it as it is";
            case ALLOW_CASCADE -> "choose those rows too, or give --allow-cascade: no undo brings them back then";
            case ALLOW_NO_UNDO -> "it holds what its own constraints refuse; --allow-no-undo makes them all the same";
            case RESUME -> "resume it with compare --resume";
            case SELECT -> "make one with sharp-tally show --save-selection FILE";
            case SELECT_AGAIN -> "name that run, or choose again with sharp-tally show --save-selection";
            case DRIVER_JAR -> "put its jar into the folder drivers, or name it with --driver-jar";
            case CHECK_DRIVER_JAR -> "check --driver-jar";
        };
    }
}
