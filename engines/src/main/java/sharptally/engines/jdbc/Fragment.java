package sharptally.engines.jdbc;

import java.util.regex.Pattern;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * A query, condition or expression that a user or a job file gives, as a part of a statement of ours. It may come from
 * somebody else: it must not end the statement and begin another one, which some drivers would carry out, out of the
 * read-only transaction.
 */
public final class Fragment {
    /** Functions of H2 that read or write files and other databases. */
    private static final Pattern REACHES =
            Pattern.compile("(?i)\\b(?:FILE_READ|FILE_WRITE|CSVREAD|CSVWRITE|LINK_SCHEMA)\\b");

    private Fragment() {}

    /**
     * @throws ToolException when it holds a semicolon, even in quotes (which engines do not see alike), or reaches out of an
     *     H2 database
     */
    public static String checked(JdbcEngine engine, String sql) {
        if (sql.indexOf(';') >= 0) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a query or condition must be a single one, without semicolons",
                    sql.strip(),
                    "leave them out; in a text, write the semicolon as a character by its number, as chr(59)");
        }
        if (engine.name().equals("h2") && REACHES.matcher(sql).find()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a query or condition must not read files",
                    sql.strip(),
                    "read them by themselves");
        }
        return sql;
    }
}
