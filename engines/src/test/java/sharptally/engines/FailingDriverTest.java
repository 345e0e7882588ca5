package sharptally.engines;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.RETURNS_DEEP_STUBS;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlText;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

/** What a real server can't be brought to do. */
class FailingDriverTest {
    private static final PlaceAccess PLACE = PlaceAccess.of(Address.parse("sqlite:somewhere"));
    private static final TableShape TABLE = new TableShape(
            TableName.of("t"),
            false,
            List.of(new ColumnShape(
                    "a", "TEXT", Optional.of(CanonicalType.of(Kind.TEXT)), true, Generation.NONE, Optional.empty())),
            List.of(),
            List.of(),
            false);

    private final Connection connection = mock(Connection.class, RETURNS_DEEP_STUBS);
    private final PreparedStatement statement = mock(PreparedStatement.class);
    private final ResultSet rows = mock(ResultSet.class);
    private JdbcEngine engine;

    @BeforeEach
    void driver() throws SQLException {
        JdbcEngine sqlite = (JdbcEngine) Engines.of(PLACE.address());
        Connector connector = mock(Connector.class);
        when(connector.connect(any(), any())).thenReturn(connection);
        engine = new JdbcEngine(
                "sqlite",
                connector,
                sqlite.catalogue(),
                sqlite.reading(),
                sqlite.totalling(),
                sqlite.hashing(),
                sqlite.joining(),
                sqlite.terms(),
                sqlite.writing());
        when(connection.prepareStatement(anyString())).thenReturn(statement);
        when(statement.executeQuery()).thenReturn(rows);
        when(rows.getObject(anyInt())).thenReturn("x");
    }

    @Test
    void brokenConnectionIsToldFromOtherFailures() throws SQLException {
        assertFails(
                new SQLException("gone away", "08006"),
                ErrorKind.BROKEN,
                "reading was interrupted: sqlite:somewhere#t (gone away)");
        assertFails(
                new SQLException("no such function\nand more", "42883"),
                ErrorKind.READ,
                "reading was interrupted: sqlite:somewhere#t (no such function)");
        assertFails(
                new SQLException("permission denied", "42501"),
                ErrorKind.READ,
                "(permission denied); ask for the right to read it");
    }

    private void assertFails(SQLException failure, ErrorKind kind, String message) throws SQLException {
        org.mockito.Mockito.doReturn(true).doThrow(failure).when(rows).next();
        try (Place place = engine.open(PLACE);
                RowSource source = place.read(new ReadRequest(TABLE, TABLE.columns(), List.of()))) {
            assertThatThrownBy(source::next)
                    .hasMessageContaining(message)
                    .isInstanceOfSatisfying(
                            ToolException.class, e -> assertThat(e.kind()).isEqualTo(kind));
        }
    }

    @Test
    void endingEarlyCancelsBeforeItClosesAndIsSafeTwice() throws SQLException {
        when(rows.next()).thenReturn(true);
        try (Place place = engine.open(PLACE)) {
            RowSource source = place.read(new ReadRequest(TABLE, TABLE.columns(), List.of()));
            assertThat(source.next()).isPresent();
            source.close();
            source.close();
            var order = org.mockito.Mockito.inOrder(statement, connection);
            order.verify(statement).cancel();
            order.verify(connection).close();
            assertThat(source.next()).isEmpty();
        }
    }

    @Test
    void failureToCloseIsToldNotSwallowed() throws SQLException {
        doThrow(new SQLException("can't close")).when(connection).close();
        Place place = engine.open(PLACE);
        assertThatThrownBy(place::close)
                .hasMessageContaining("can't close the connection")
                .hasMessageContaining("can't close");
    }

    @Test
    void connectionThatCantTakeBackIsClosedAllTheSame() throws SQLException {
        doThrow(new SQLException("gone away", "08006")).when(connection).rollback();
        assertThatThrownBy(engine.open(PLACE)::close).hasMessageContaining("gone away");
        org.mockito.Mockito.verify(connection).close();
        org.mockito.Mockito.clearInvocations(connection);
        // SQLite's own way of taking back is tried in its place, which this driver takes.
        engine.changes().orElseThrow().open(PLACE).close();
        org.mockito.Mockito.verify(connection).close();
    }

    @Test
    void failedCommitIsRolledBackAndTold() throws SQLException {
        doThrow(new SQLException("no space left", "53100")).when(connection).commit();
        when(connection.prepareStatement(any())).thenReturn(statement);
        when(statement.executeLargeUpdate()).thenReturn(1L);
        try (ChangeSession session = engine.changes().orElseThrow().open(PLACE)) {
            assertThat(session.execute(
                            new SqlText.Builder().text("DELETE FROM t").build()))
                    .isEqualTo(1);
            assertThatThrownBy(session::commit)
                    .hasMessageContaining("the target refused to commit")
                    .isInstanceOfSatisfying(
                            ToolException.class, e -> assertThat(e.kind()).isEqualTo(ErrorKind.REFUSED));
        }
        verify(connection).rollback();
    }

    @Test
    void openingThatFailsLeavesNoConnectionBehind() throws SQLException {
        Connector connector = mock(Connector.class);
        when(connector.connect(any(), any())).thenThrow(new SQLException("Connection refused", "08001"));
        JdbcEngine refusing = new JdbcEngine(
                "sqlite",
                connector,
                engine.catalogue(),
                engine.reading(),
                engine.totalling(),
                engine.hashing(),
                engine.joining(),
                engine.terms(),
                engine.writing());
        assertThatThrownBy(() -> refusing.open(PLACE))
                .hasMessage(
                        "can't open the database: sqlite:somewhere (Connection refused); check host and port, and that"
                                + " the server runs")
                .isInstanceOfSatisfying(
                        ToolException.class, e -> assertThat(e.kind()).isEqualTo(ErrorKind.CONNECT));
        verify(connection, never()).close();
    }
}
