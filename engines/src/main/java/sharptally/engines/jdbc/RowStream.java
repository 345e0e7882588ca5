package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Optional;
import sharptally.core.rows.Column;

/** The rows of a statement, through its result set; the query starts with the first row asked for. */
final class RowStream implements BulkReading.Stream {
    private final PreparedStatement statement;
    private final CellReader[] readers;
    private Optional<ResultSet> result = Optional.empty();

    private RowStream(PreparedStatement statement, CellReader[] readers) {
        this.statement = statement;
        this.readers = readers;
    }

    static RowStream open(Connection connection, Reading reading, String sql, CellReader[] readers)
            throws SQLException {
        return new RowStream(reading.openForStreaming(connection, sql), readers);
    }

    @Override
    public boolean next(Column[] columns) throws SQLException {
        if (result.isEmpty()) {
            result = Optional.of(statement.executeQuery());
        }
        ResultSet rows = result.get();
        if (!rows.next()) {
            statement.close();
            return false;
        }
        for (int i = 0; i < columns.length; i++) {
            readers[i].read(rows, i + 1, columns[i]);
        }
        return true;
    }

    @Override
    public void cancel() throws SQLException {
        statement.cancel();
    }
}
