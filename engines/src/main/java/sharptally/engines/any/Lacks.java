package sharptally.engines.any;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.WeakHashMap;

/** What drivers were asked for and do not offer, by connection; a driver is used with what it has. Safe between threads. */
final class Lacks {
    private static final Map<Connection, List<String>> TOLD = new WeakHashMap<>();

    private Lacks() {}

    /** A question that a driver may have no answer to. */
    interface Question<T> {
        T ask() throws SQLException;
    }

    /** The answer; where the driver does not offer it, that is noted, and nothing is known. */
    static <T> T asked(Connection connection, String what, T unknown, Question<T> question) throws SQLException {
        try {
            return question.ask();
        } catch (SQLException e) {
            if (!isRefused(e)) {
                throw e;
            }
        } catch (AbstractMethodError | UnsupportedOperationException e) {
            // A driver of an older standard, or one that says so in its own way.
        }
        synchronized (TOLD) {
            List<String> told = TOLD.computeIfAbsent(connection, c -> new ArrayList<>());
            if (!told.contains(what)) {
                told.add(what);
            }
        }
        return unknown;
    }

    static List<String> of(Connection connection) {
        synchronized (TOLD) {
            return List.copyOf(TOLD.getOrDefault(connection, List.of()));
        }
    }

    /** By the class of the standard, by its state, or by the words of those who use neither. */
    private static boolean isRefused(SQLException e) {
        String message = String.valueOf(e.getMessage()).toLowerCase(Locale.ROOT);
        return e instanceof SQLFeatureNotSupportedException
                || String.valueOf(e.getSQLState()).startsWith("0A")
                || "HYC00".equals(e.getSQLState())
                || "IM001".equals(e.getSQLState())
                || message.contains("not supported")
                || message.contains("unsupported")
                || message.contains("not implemented");
    }
}
