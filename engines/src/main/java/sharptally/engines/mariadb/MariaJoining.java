package sharptally.engines.mariadb;

import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.join.Joining;

/** Joins tables of one server, of any database. */
final class MariaJoining implements Joining {
    private static final String INSTANCE =
            "SELECT CONCAT_WS(' ', @@hostname, @@port, @@datadir, @@server_id, @@version, @@pid_file, @@socket)";

    /** What a condition must hold to reach a table or a sequence, or to ask for the database's name. */
    private static final Pattern NAMING = Pattern.compile(
            "(?i)\\b(SELECT|TABLE|VALUES|WITH|DATABASE|SCHEMA|NEXT|PREVIOUS|NEXTVAL|LASTVAL|SETVAL)\\b");

    private static final String FUNCTIONS = "SELECT COUNT(*) FROM information_schema.routines"
            + " WHERE routine_schema = DATABASE() AND routine_type <> 'PROCEDURE'";

    @Override
    public String instance() {
        return INSTANCE;
    }

    /** Named locks are of one server. */
    @Override
    public Optional<Sign> sign(long number) {
        String name = "'sharp_tally_" + Long.toHexString(number) + "'";
        return Optional.of(new Sign(
                "SELECT GET_LOCK(" + name + ", 0)",
                "SELECT IS_USED_LOCK(" + name + ") IS NOT NULL",
                Optional.of("SELECT RELEASE_LOCK(" + name + ")")));
    }

    @Override
    public Optional<String> reader() {
        return Optional.of("SELECT CURRENT_USER()");
    }

    @Override
    public Optional<String> names() {
        return Optional.of("SELECT DATABASE()");
    }

    @Override
    public boolean dependsOnNames(PlaceSession session, TableShape table, List<ColumnShape> columns) {
        Stream<String> fragments = Stream.concat(
                table.filters().stream()
                        .filter(RowFilter.Condition.class::isInstance)
                        .map(filter -> ((RowFilter.Condition) filter).text()),
                columns.stream().flatMap(column -> column.expression().stream()));
        return table.query().isPresent()
                || fragments.anyMatch(sql -> NAMING.matcher(sql).find())
                || hasFunctions(session);
    }

    /** Where they can't be asked for, there may be some. */
    private static boolean hasFunctions(PlaceSession session) {
        try {
            return !session.asked(FUNCTIONS, "can't ask for stored functions").equals("0");
        } catch (ToolException e) {
            return true;
        }
    }

    @Override
    public Outer outer() {
        return Outer.LEFT;
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return form(one) + " = " + form(other);
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return "NOT (" + form(one) + " <=> " + form(other) + ")";
    }

    private static String form(ColumnShape column) {
        Kind kind = MariaReading.kind(column);
        return kind == Kind.TEXT || kind == Kind.JSON
                ? MariaDialect.asBytes(column)
                : MariaDialect.quoted(column.name());
    }
}
