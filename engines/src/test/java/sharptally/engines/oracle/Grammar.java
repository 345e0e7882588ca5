package sharptally.engines.oracle;

import com.alibaba.druid.DbType;
import com.alibaba.druid.sql.SQLUtils;
import com.alibaba.druid.sql.parser.ParserException;
import io.debezium.ddl.parser.oracle.generated.PlSqlLexer;
import io.debezium.ddl.parser.oracle.generated.PlSqlParser;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.BailErrorStrategy;
import org.antlr.v4.runtime.CharStreams;
import org.antlr.v4.runtime.CommonTokenStream;
import org.antlr.v4.runtime.misc.ParseCancellationException;

/** Two grammars of Oracle that others wrote; a statement counts as parsed when one of them takes all of it. */
final class Grammar {
    /** Words of the client, which no grammar of the server knows. */
    private static final Pattern CLIENT = Pattern.compile(
            "WHENEVER (SQL|OS)ERROR EXIT FAILURE ROLLBACK|SET (EXITCOMMIT|DEFINE) OFF|SET SQLBLANKLINES ON");

    private Grammar() {}

    static boolean takes(String statement) {
        // Both are older than what JSON_SERIALIZE may return.
        String sql = statement
                .strip()
                .replace(" RETURNING CLOB)", ")")
                // And than tables of one session alone, which are made like those of all sessions.
                .replace("CREATE PRIVATE TEMPORARY TABLE ORA$PTT_", "CREATE GLOBAL TEMPORARY TABLE ORA$PTT_")
                .replace(" ON COMMIT PRESERVE DEFINITION AS ", " ON COMMIT PRESERVE ROWS AS ");
        return CLIENT.matcher(sql).matches() || one(sql) || two(sql);
    }

    private static boolean one(String sql) {
        try {
            // This grammar wants capital letters outside of quotes.
            var tokens = new CommonTokenStream(
                    new PlSqlLexer(CharStreams.fromString(capitals(sql) + (sql.endsWith(";") ? "" : ";"))));
            var parser = new PlSqlParser(tokens);
            parser.removeErrorListeners();
            parser.setErrorHandler(new BailErrorStrategy());
            parser.sql_script();
            return tokens.LA(1) == org.antlr.v4.runtime.Token.EOF;
        } catch (ParseCancellationException e) {
            return false;
        }
    }

    private static String capitals(String sql) {
        StringBuilder out = new StringBuilder();
        char quote = 0;
        for (char c : sql.toCharArray()) {
            if (quote == 0 && (c == '\'' || c == '"')) {
                quote = c;
            } else if (c == quote) {
                quote = 0;
            }
            out.append(quote == 0 ? Character.toUpperCase(c) : c);
        }
        return out.toString();
    }

    private static boolean two(String sql) {
        try {
            return SQLUtils.parseStatements(sql, DbType.oracle).size() == 1;
        } catch (ParserException | ClassCastException e) {
            return false;
        }
    }
}
