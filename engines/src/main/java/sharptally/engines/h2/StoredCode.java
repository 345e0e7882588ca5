package sharptally.engines.h2;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.regex.Pattern;
import org.h2.mvstore.MVStore;
import org.h2.mvstore.MVStoreException;
import org.h2.mvstore.db.ValueDataType;
import org.h2.mvstore.tx.TransactionMap;
import org.h2.mvstore.tx.TransactionStore;
import org.h2.result.SearchRow;

/**
 * What in an H2 file runs code or reaches out of it: functions, aggregates and triggers in Java (a trigger given as source
 * runs as soon as the file is opened), tables of other engines or of other databases, and views that read files. So the
 * statements of its catalogue are read from its pages, without opening it as a database.
 *
 * <p>H2 carries out whatever statement stands there. Therefore only those are let pass that are known to make tables, views
 * and what belongs to them, in the form in which H2 itself writes them; all others count as code.
 */
final class StoredCode {
    /** Where H2 keeps the statements by which it makes its objects when it is opened. */
    private static final String CATALOGUE = "table.0";

    private static final int STATEMENT = 3;
    private static final int SHOWN = 60;

    /** What stands between quotes, be it a name or a text. */
    private static final Pattern QUOTED = Pattern.compile("\"(?:[^\"]|\"\")*\"|'(?:[^']|'')*'");

    /** Settings that neither load a class nor write a file. */
    private static final String SETTINGS = "CREATE_BUILD|MODE|COLLATION|IGNORECASE|CACHE_SIZE|LOCK_MODE|LOCK_TIMEOUT"
            + "|DEFAULT_LOCK_TIMEOUT|DEFAULT_TABLE_TYPE|WRITE_DELAY|MAX_LENGTH_INPLACE_LOB|MAX_LOG_SIZE|MAX_MEMORY_ROWS"
            + "|MAX_MEMORY_UNDO|MAX_OPERATION_MEMORY|COMPRESS_LOB|DB_CLOSE_DELAY|OPTIMIZE_REUSE_RESULTS|THROTTLE"
            + "|REFERENTIAL_INTEGRITY|RETENTION_TIME|LAZY_QUERY_EXECUTION|NON_KEYWORDS|TIME\\s+ZONE|TRUNCATE_LARGE_LENGTH"
            + "|VARIABLE_BINARY|ALLOW_LITERALS|QUERY_STATISTICS|QUERY_STATISTICS_MAX_ENTRIES|MULTI_THREADED|UNDO_LOG";

    /** How statements begin that make what a database is made of, names and texts being left away. */
    private static final Pattern KNOWN = Pattern.compile("(?is)^(?:"
            + "CREATE\\s+(?:FORCE\\s+|OR\\s+REPLACE\\s+|CACHED\\s+|MEMORY\\s+|GLOBAL\\s+|LOCAL\\s+|TEMPORARY\\s+|UNIQUE\\s+"
            + "|PRIMARY\\s+|HASH\\s+|SPATIAL\\s+|NULLS\\s+DISTINCT\\s+|NULLS\\s+NOT\\s+DISTINCT\\s+|NULLS\\s+ALL\\s+DISTINCT\\s+)*"
            + "(?:TABLE|VIEW|MATERIALIZED\\s+VIEW|INDEX|KEY|SEQUENCE|SCHEMA|USER|ROLE|DOMAIN|CONSTANT|SYNONYM)\\b"
            + "|ALTER\\s+(?:TABLE|DOMAIN|SEQUENCE|VIEW)\\b|SET\\s+(?:" + SETTINGS
            + ")\\b|GRANT\\s|COMMENT\\s+ON\\s).*");

    /** What must stand in none of them: comments, which H2 never writes, further statements, and words that run code. */
    private static final Pattern FOREIGN = Pattern.compile(
            "(?is)/\\*|--|//|\\$\\$|;|\\b(?:ENGINE|ALIAS|TRIGGER|AGGREGATE|LINKED|CALL|EXECUTE|RUNSCRIPT|SCRIPT)\\b");

    /** Functions that read or write files or other databases, by quoted names too. */
    private static final Pattern REACHES =
            Pattern.compile("(?i)\\b(?:FILE_READ|FILE_WRITE|CSVREAD|CSVWRITE|LINK_SCHEMA)\\b");

    private StoredCode() {}

    /**
     * The beginnings of statements of which it is not known that they run no code; none in a file that can't be read in this way, which is no
     * database file, is encrypted, or is of another version.
     *
     * @param file with its suffix
     */
    static List<String> in(Path file) {
        List<String> found = new ArrayList<>();
        try (MVStore store =
                new MVStore.Builder().fileName(file.toString()).readOnly().open()) {
            if (!store.hasMap(CATALOGUE)) {
                return found;
            }
            TransactionStore transactions = new TransactionStore(store, new ValueDataType());
            transactions.init();
            TransactionMap<Long, SearchRow> rows = transactions.begin().openMap(CATALOGUE);
            for (Iterator<Long> keys = rows.keyIterator(null); keys.hasNext(); ) {
                String statement = rows.get(keys.next()).getValue(STATEMENT).getString();
                told(statement == null ? "" : statement.strip(), found);
            }
            return found;
        } catch (MVStoreException e) {
            // Held by another program, or damaged: H2, which opens it in the same way, says what is wrong with it.
            return found;
        } catch (RuntimeException e) {
            return List.of("a catalogue that can't be read");
        }
    }

    private static void told(String statement, List<String> found) {
        String bare = QUOTED.matcher(statement).replaceAll(" x ").strip();
        if (!KNOWN.matcher(bare).matches()
                || FOREIGN.matcher(bare).find()
                || REACHES.matcher(statement).find()) {
            String line = statement.replaceAll("\\s+", " ");
            found.add(line.length() > SHOWN ? line.substring(0, SHOWN) + "…" : line);
        }
    }
}
