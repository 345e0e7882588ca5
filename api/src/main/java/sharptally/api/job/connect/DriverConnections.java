package sharptally.api.job.connect;

import java.io.PrintWriter;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.Properties;
import java.util.logging.Logger;
import javax.sql.DataSource;

/** A new connection for whoever asks. */
public record DriverConnections(String url, Properties properties) implements DataSource {
    @Override
    public Connection getConnection() throws SQLException {
        return DriverManager.getConnection(url, properties);
    }

    @Override
    public Connection getConnection(String user, String password) throws SQLException {
        return DriverManager.getConnection(url, user, password);
    }

    @Override
    public PrintWriter getLogWriter() {
        return new PrintWriter(PrintWriter.nullWriter());
    }

    @Override
    public void setLogWriter(PrintWriter out) {
        // nothing is logged
    }

    @Override
    public void setLoginTimeout(int seconds) {
        // the driver's own
    }

    @Override
    public int getLoginTimeout() {
        return 0;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException();
    }

    @Override
    public <T> T unwrap(Class<T> type) throws SQLException {
        throw new SQLException("nothing is wrapped here");
    }

    @Override
    public boolean isWrapperFor(Class<?> type) {
        return false;
    }
}
