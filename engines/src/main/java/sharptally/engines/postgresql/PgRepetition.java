package sharptally.engines.postgresql;

import java.util.List;
import sharptally.core.sql.CountedByTable;
import sharptally.core.sql.Repetition;

/** All within the one transaction, as a pooler may give what follows to another session. */
final class PgRepetition implements Repetition {
    private final CountedByTable counted = new CountedByTable(
            "CREATE TEMP TABLE ",
            " ON COMMIT DROP",
            "",
            CountedByTable.CHECKED.replace("made, rows, go", "made bigint, rows bigint, go int"),
            all -> List.of(),
            List.of());

    @Override
    public List<String> begin() {
        return counted.begin();
    }

    @Override
    public String count(String rows) {
        return counted.count(rows);
    }

    @Override
    public List<String> decide(long all) {
        return counted.decide(all);
    }

    @Override
    public String toDo() {
        return counted.toDo();
    }

    @Override
    public List<String> find(String changed, String repeated) {
        return List.of(counted.result(changed, repeated) + " \\gset sharp_tally_");
    }

    @Override
    public List<String> say(String changed, String repeated) {
        return List.of("\\echo :sharp_tally_result");
    }

    @Override
    public List<String> end() {
        return counted.end();
    }
}
