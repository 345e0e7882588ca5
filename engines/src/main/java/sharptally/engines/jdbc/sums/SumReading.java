package sharptally.engines.jdbc.sums;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.RangeSum;
import sharptally.engines.jdbc.Failures;
import sharptally.engines.jdbc.Selects;

/** Has a database work checksums out. Used by one thread, but for {@link #cancel}. */
final class SumReading {
    private final Selects selects;
    private final Hashing hashing;
    private final Address address;
    private volatile Optional<Statement> running = Optional.empty();

    SumReading(Selects selects, Hashing hashing, Address address) {
        this.selects = selects;
        this.hashing = hashing;
        this.address = address;
    }

    /**
     * @param sought whether the rows of a range are found by an index
     */
    Map<Long, RangeSum> read(Connection connection, SumsRequest request, boolean sought) {
        String sql = new SumSelects(selects, hashing).sums(request, sought);
        Map<Long, RangeSum> sums = new TreeMap<>();
        try (Statement statement = connection.createStatement()) {
            running = Optional.of(statement);
            try (ResultSet row = statement.executeQuery(sql)) {
                while (row.next()) {
                    if (row.getLong(2) > 0) {
                        sums.merge(row.getLong(1), sum(row.getLong(2), row.getBigDecimal(3)), RangeSum::plus);
                    }
                }
            }
            return sums;
        } catch (SQLException e) {
            ToolException failure = Failures.wrap(
                    ErrorKind.READ,
                    "can't work out checksums",
                    address.withTable(request.table().name().toString()).toString(),
                    e);
            endTransaction(connection, failure);
            throw failure;
        } finally {
            running = Optional.empty();
        }
    }

    /** Sums are far below half of what stands for a row without a hash, and may be below zero. */
    private static RangeSum sum(long rows, BigDecimal figure) {
        BigDecimal unhashed = figure.movePointLeft(Hashing.UNHASHED_DIGITS).setScale(0, RoundingMode.HALF_UP);
        BigDecimal sum = figure.subtract(unhashed.movePointRight(Hashing.UNHASHED_DIGITS));
        return new RangeSum(rows, sum.toBigInteger().longValue(), unhashed.longValueExact());
    }

    /** After a failure some databases refuse all else within the transaction. */
    private static void endTransaction(Connection connection, ToolException failure) {
        try {
            if (!connection.isClosed()) {
                connection.rollback();
            }
        } catch (SQLException e) {
            failure.addSuppressed(e);
        }
    }

    /** Ends what is being worked out, from another thread. */
    void cancel() {
        try {
            Optional<Statement> now = running;
            if (now.isPresent()) {
                now.get().cancel();
            }
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't end what is being worked out", address.toString(), e);
        }
    }
}
