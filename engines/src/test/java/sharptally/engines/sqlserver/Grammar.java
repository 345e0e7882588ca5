package sharptally.engines.sqlserver;

import com.alibaba.druid.DbType;
import com.alibaba.druid.sql.SQLUtils;
import com.alibaba.druid.sql.parser.ParserException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import net.sf.jsqlparser.JSQLParserException;
import net.sf.jsqlparser.parser.CCJSqlParserUtil;
import org.antlr.v4.runtime.BailErrorStrategy;
import org.antlr.v4.runtime.CharStreams;
import org.antlr.v4.runtime.CommonTokenStream;
import org.antlr.v4.runtime.Token;
import org.antlr.v4.runtime.misc.ParseCancellationException;
import org.apache.shardingsphere.sql.parser.autogen.SQLServerStatementLexer;
import org.apache.shardingsphere.sql.parser.autogen.SQLServerStatementParser;

/**
 * Three grammars of SQL Server that others wrote, each of which lacks something that the others know. A statement counts as
 * parsed when one of them takes all of it.
 */
final class Grammar {
    /** No grammar knows THROW; what stands in it is a text and two numbers. */
    private static final Pattern STOP =
            Pattern.compile("IF NOT \\((.*)\\) BEGIN; THROW 50000, (N'(?:[^']|'')*'), 1; END", Pattern.DOTALL);

    private static final Pattern TEXT = Pattern.compile("'(?:[^']|'')*'|\\[[^\\]]*\\]");

    /** No grammar knows these settings; a word each. */
    private static final Pattern SETTING = Pattern.compile(
            "SET (XACT_ABORT|NOCOUNT|NOEXEC|ANSI_NULLS|QUOTED_IDENTIFIER|CONCAT_NULL_YIELDS_NULL) (ON|OFF)"
                    + "|SET LOCK_TIMEOUT \\d+|SET TRANSACTION ISOLATION LEVEL [A-Z ]+|(BEGIN|COMMIT) TRANSACTION");

    /** No grammar knows names with a bracket in them, which is doubled; what is between the outer ones may be anything. */
    private static final Pattern NAME = Pattern.compile("\\[((?:[^\\]]|\\]\\])*)\\]");

    private Grammar() {}

    static boolean takes(String statement) {
        String sql = NAME.matcher(statement.strip().replaceAll(";$", ""))
                .replaceAll(name -> Matcher.quoteReplacement("[" + name.group(1).replaceAll("\\W", "_") + "]"));
        // One of them forgives a bracket that is missing.
        if (!isBalanced(sql)) {
            return false;
        }
        Matcher stop = STOP.matcher(sql);
        if (stop.matches()) {
            return takes("SELECT 1 FROM t WHERE " + stop.group(1)) && takes("SELECT " + stop.group(2));
        }
        // A collation may stand behind any expression; two of them know that of a column alone.
        String plain = sql.replace(" COLLATE " + SqlServerDialect.BINARY, "");
        return SETTING.matcher(sql).matches() || one(plain) || two(plain) || three(sql);
    }

    private static boolean isBalanced(String sql) {
        int depth = 0;
        for (char c : TEXT.matcher(sql).replaceAll("").toCharArray()) {
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (depth < 0) {
                return false;
            }
        }
        return depth == 0;
    }

    private static boolean one(String sql) {
        try {
            var tokens = new CommonTokenStream(new SQLServerStatementLexer(CharStreams.fromString(sql)));
            var parser = new SQLServerStatementParser(tokens);
            parser.removeErrorListeners();
            parser.setErrorHandler(new BailErrorStrategy());
            parser.execute();
            return tokens.LA(1) == Token.EOF;
        } catch (ParseCancellationException e) {
            return false;
        }
    }

    private static boolean two(String sql) {
        try {
            return SQLUtils.parseStatements(sql, DbType.sqlserver).size() == 1;
        } catch (ParserException | ClassCastException e) {
            return false;
        }
    }

    private static boolean three(String sql) {
        try {
            CCJSqlParserUtil.parse(sql, parser -> parser.withSquareBracketQuotation(true));
            return true;
        } catch (JSQLParserException e) {
            return false;
        }
    }
}
