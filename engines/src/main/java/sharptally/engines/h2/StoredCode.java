package sharptally.engines.h2;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.regex.Matcher;
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
 */
final class StoredCode {
    /** Where H2 keeps the statements by which it makes its objects when it is opened. */
    private static final String CATALOGUE = "table.0";

    private static final int STATEMENT = 3;

    private static final Pattern RUNS = Pattern.compile(
            "(?is)^CREATE\\s+(?:FORCE\\s+|OR\\s+REPLACE\\s+)*(ALIAS|AGGREGATE|TRIGGER|(?:(?:GLOBAL|LOCAL)\\s+)?(?:TEMPORARY\\s+)?LINKED\\s+TABLE)"
                    + "\\s+(?:IF\\s+NOT\\s+EXISTS\\s+)?(\\S+).*");
    private static final Pattern OTHER_ENGINE =
            Pattern.compile("(?is)^CREATE\\s.*\\bTABLE\\s+(?:IF\\s+NOT\\s+EXISTS\\s+)?(\\S+?)\\(.*\\)\\s*ENGINE\\b.*");
    private static final Pattern REACHES =
            Pattern.compile("(?is)\\b(FILE_READ|FILE_WRITE|CSVREAD|CSVWRITE|LINK_SCHEMA|RUNSCRIPT)\\b");
    private static final Pattern NAMED = Pattern.compile("(?is)^CREATE\\s.*?((?:\"[^\"]+\"\\.)?\"[^\"]+\").*");

    private StoredCode() {}

    /**
     * What there is of it, as {@code trigger "PUBLIC"."T"}; none in a file that can't be read in this way, which is no
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
        Matcher runs = RUNS.matcher(statement);
        Matcher engine = OTHER_ENGINE.matcher(statement);
        Matcher reaches = REACHES.matcher(statement);
        if (runs.matches()) {
            found.add(runs.group(1).toLowerCase(java.util.Locale.ROOT) + " " + runs.group(2));
        } else if (engine.matches()) {
            found.add("table of another engine " + engine.group(1));
        } else if (reaches.find()) {
            Matcher named = NAMED.matcher(statement);
            found.add(reaches.group(1) + (named.matches() ? " in " + named.group(1) : ""));
        }
    }
}
