package sharptally.engines.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Address;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.ParsedStatements;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

class ParsedTest extends ParsedStatements {
    private static final Path SCRIPTS = Path.of("src/test/resources/scripts/oracle.sql");

    private static final List<String> TYPES = List.of(
            "NUMBER(10,0)",
            "NUMBER(20,6)",
            "NUMBER(*,0)",
            "NUMBER",
            "FLOAT",
            "BINARY_FLOAT",
            "BINARY_DOUBLE",
            "CHAR(4)",
            "NCHAR(4)",
            "VARCHAR2(20)",
            "NVARCHAR2(20)",
            "CLOB",
            "NCLOB",
            "RAW(4)",
            "BLOB",
            "DATE",
            "TIMESTAMP(6)",
            "TIMESTAMP(9)",
            "TIMESTAMP(6) WITH TIME ZONE",
            "TIMESTAMP(6) WITH LOCAL TIME ZONE",
            "INTERVAL DAY(2) TO SECOND(6)",
            "INTERVAL YEAR(2) TO MONTH",
            "ROWID",
            "XMLTYPE",
            "JSON");

    @Override
    protected JdbcEngine engine() {
        return (JdbcEngine) OracleDatabase.engine();
    }

    @Override
    protected Connector connector() {
        return new OracleConnector();
    }

    @Override
    protected Address address() {
        return Address.parse("oracle://127.0.0.1/archive");
    }

    @Override
    protected Optional<CanonicalType> canonical(String type) {
        boolean number = type.startsWith("NUMBER(");
        return number
                ? OracleTypes.canonical(
                        "NUMBER", type.equals("NUMBER(10,0)") ? 10 : 20, Optional.of(type.endsWith(",0)") ? 0 : 6))
                : OracleTypes.canonical(type, 0, Optional.empty());
    }

    @Override
    protected List<String> types() {
        return TYPES;
    }

    @Override
    protected String hostile() {
        return "na[me'";
    }

    @Override
    protected boolean isTaken(String statement) {
        return Grammar.takes(statement);
    }

    /** Where one side alone can't hold an empty text, that is the same as NULL, by a rule that is counted and can be taken back. */
    @Test
    void emptyTextIsNullBesideAnotherEngine() {
        TableShape ours = table(canonical("VARCHAR2(20)").orElseThrow());
        TableShape other = table(CanonicalType.of(Kind.TEXT));
        MatchRequest wish = MatchRequest.ofTables("gauge", "gauge", List.of(), List.of());
        assertThat(rules(ours, other, wish)).containsExactly(new Rule.EmptyAsNull());
        assertThat(rules(other, ours, wish)).containsExactly(new Rule.EmptyAsNull());
        assertThat(rules(ours, ours, wish)).isEmpty();
        assertThat(rules(other, other, wish)).isEmpty();
    }

    private static TableShape table(CanonicalType text) {
        ColumnShape id = new ColumnShape(
                "id", "x", Optional.of(CanonicalType.of(Kind.INTEGER)), false, Generation.NONE, Optional.empty());
        ColumnShape name = new ColumnShape("name", "x", Optional.of(text), true, Generation.NONE, Optional.empty());
        return new TableShape(
                TableName.of("gauge"),
                false,
                List.of(id, name),
                List.of(new KeyShape(true, List.of("id"))),
                List.of(),
                false);
    }

    private static List<Rule> rules(TableShape source, TableShape target, MatchRequest wish) {
        return MatchPlanner.plan(source, target, wish).pairs().get(1).rules();
    }

    /** Blocks end with a line of their own, other statements with a semicolon. */
    @Override
    protected List<String> scripts() throws IOException {
        String bare = Files.readString(SCRIPTS).replaceAll("(?m)^--.*\n", "");
        return Stream.of(bare.split("\n/\n"))
                .flatMap(part -> {
                    int begin = part.indexOf("BEGIN\n");
                    String before = begin < 0 ? part : part.substring(0, begin);
                    return Stream.concat(
                            Stream.of(before.split(";\n|\n(?=WHENEVER|SET [EDS])")),
                            begin < 0 ? Stream.empty() : Stream.of(part.substring(begin)));
                })
                .map(String::strip)
                .filter(s -> !s.isEmpty())
                .toList();
    }
}
