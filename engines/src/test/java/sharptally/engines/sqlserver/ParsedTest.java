package sharptally.engines.sqlserver;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.types.CanonicalType;
import sharptally.engines.ParsedStatements;
import sharptally.engines.jdbc.Fragment;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

class ParsedTest extends ParsedStatements {
    private static final Path SCRIPTS = Path.of("src/test/resources/scripts/sqlserver.sql");

    private static final List<String> TYPES = List.of(
            "bigint",
            "bit",
            "tinyint",
            "int",
            "decimal(20,6)",
            "decimal(20,0)",
            "money",
            "smallmoney",
            "real",
            "float",
            "char(4)",
            "nchar(4)",
            "varchar(20)",
            "nvarchar(max)",
            "text",
            "ntext",
            "binary(4)",
            "varbinary(max)",
            "image",
            "timestamp",
            "date",
            "time(7)",
            "datetime",
            "smalldatetime",
            "datetime2(7)",
            "datetimeoffset(7)",
            "uniqueidentifier",
            "xml",
            "hierarchyid");

    @Override
    protected JdbcEngine engine() {
        return (JdbcEngine) SqlServer.engine();
    }

    @Override
    protected Connector connector() {
        return new SqlServerConnector();
    }

    @Override
    protected Address address() {
        return Address.parse("sqlserver://127.0.0.1/archive");
    }

    @Override
    protected Optional<CanonicalType> canonical(String type) {
        return SqlServerTypes.canonical(SqlServerTypes.base(type), type.endsWith("(7)") ? 7 : 3);
    }

    @Override
    protected List<String> types() {
        return TYPES;
    }

    @Override
    protected String hostile() {
        return "na\"me'";
    }

    @Override
    protected boolean isTaken(String statement) {
        return Grammar.takes(statement);
    }

    /** By its real driver, which needs no server to say that there is none. */
    @Test
    void aClosedPortIsTold() throws IOException {
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        PlaceAccess place = PlaceAccess.of(Address.parse("sqlserver://sa@127.0.0.1:" + port + "/archive"));
        assertThatThrownBy(() -> SqlServer.engine().open(place))
                .isInstanceOf(ToolException.class)
                .hasMessageContaining("check host and port");
    }

    /** A statement needs no semicolon before it: what closes our brackets could go on with another one. */
    @Test
    void aConditionStaysWithinItsBrackets() {
        JdbcEngine engine = (JdbcEngine) SqlServer.engine();
        for (String good : List.of("a = ')'", "[a)] = 1", "a = (1) -- )", "a /* ) /* ( */ */ = 1", "a = N'it''s)'")) {
            assertThat(Fragment.checked(engine, good)).isEqualTo(good);
        }
        for (String bad : List.of(
                "1 = 1) DELETE FROM t --",
                "1 = 1)) x DELETE FROM t /*",
                "a = '",
                "[a]] = 1) DROP TABLE t --",
                "a = 1 /* /* */",
                "\"a\"\") = 1")) {
            assertThatThrownBy(() -> Fragment.checked(engine, bad)).hasMessageContaining("close what it opens");
        }
    }

    @Override
    protected List<String> scripts() throws IOException {
        String bare = Files.readString(SCRIPTS).replaceAll("(?m)^--.*\n", "");
        return Stream.of(bare.split(";\n|(?m)^(?:GO|:on error exit)\n"))
                .map(String::strip)
                .filter(s -> !s.isEmpty())
                .toList();
    }
}
