package sharptally.engines.oracle;

import java.util.List;
import sharptally.core.sql.Repetition;

/** Counts in a text of the session that the client, its administrators and any statement can read, and that is emptied at the end. */
final class CountedInSession implements Repetition {
    private static final String COUNT = "TO_NUMBER(SYS_CONTEXT('USERENV', 'CLIENT_INFO'))";

    private static String set(String text) {
        return OracleBlocks.block("", "DBMS_APPLICATION_INFO.SET_CLIENT_INFO(" + text + ");");
    }

    @Override
    public List<String> begin() {
        return List.of(set("'0'"));
    }

    @Override
    public String count(String rows) {
        return OracleBlocks.block(
                "FOR counted IN (SELECT " + COUNT + " + " + rows
                        + " AS made FROM DUAL) LOOP DBMS_APPLICATION_INFO.SET_CLIENT_INFO(counted.made); END LOOP",
                "");
    }

    @Override
    public List<String> decide(long all) {
        return List.of(
                OracleBlocks.counted("", COUNT + " IN (0, " + all + ")", "'" + PARTLY + "'"),
                set("CASE " + COUNT + " WHEN " + all + " THEN '0' ELSE '1' END"));
    }

    @Override
    public String toDo() {
        return COUNT;
    }

    @Override
    public List<String> say(String changed, String repeated) {
        return List.of("SELECT CASE " + COUNT + " WHEN 1 THEN '" + changed + "' ELSE '" + repeated
                + "' END AS result FROM DUAL;");
    }

    @Override
    public List<String> end() {
        return List.of(set("NULL"));
    }
}
