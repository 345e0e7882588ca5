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
        if (engine.name().equals("sqlserver") && !Brackets.hold(sql)) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a query or condition must close what it opens, and nothing else",
                    sql.strip(),
                    "check its brackets, quotes and comments");
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

    /**
     * Whether a piece of Transact-SQL stays within the brackets that are put around it. In that language a statement needs no
     * semicolon before it, so that whoever closes these brackets could go on with another one.
     */
    private static final class Brackets {
        private final String sql;
        private int at;

        private Brackets(String sql) {
            this.sql = sql;
        }

        static boolean hold(String sql) {
            return new Brackets(sql).hold();
        }

        private boolean hold() {
            int depth = 0;
            while (at < sql.length()) {
                char c = sql.charAt(at);
                boolean whole = true;
                if (c == '\'' || c == '"') {
                    whole = passed(c);
                } else if (c == '[') {
                    whole = passed(']');
                } else if (sql.startsWith("--", at)) {
                    int end = sql.indexOf('\n', at);
                    at = end < 0 ? sql.length() : end + 1;
                } else if (sql.startsWith("/*", at)) {
                    whole = comment();
                } else {
                    depth += c == '(' ? 1 : c == ')' ? -1 : 0;
                    at++;
                }
                if (!whole || depth < 0) {
                    return false;
                }
            }
            return depth == 0;
        }

        /** Goes behind a text or name, in which the mark that ends it is doubled. */
        private boolean passed(char end) {
            at++;
            while (at < sql.length()) {
                if (sql.charAt(at++) == end) {
                    if (at == sql.length() || sql.charAt(at) != end) {
                        return true;
                    }
                    at++;
                }
            }
            return false;
        }

        /** Goes behind a comment, which may hold others. */
        private boolean comment() {
            int depth = 0;
            while (at < sql.length()) {
                if (sql.startsWith("/*", at)) {
                    depth++;
                    at += 2;
                } else if (sql.startsWith("*/", at)) {
                    depth--;
                    at += 2;
                    if (depth == 0) {
                        return true;
                    }
                } else {
                    at++;
                }
            }
            return false;
        }
    }
}
