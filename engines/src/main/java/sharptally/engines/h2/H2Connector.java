package sharptally.engines.h2;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.TimeLimits;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.OwnDriver;

/** Opens database files never makes one. Without a user, H2's usual one, {@code sa}. */
final class H2Connector implements Connector {
    static final String SUFFIX = ".mv.db";

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return EnumSet.allOf(TimeLimits.Kept.class);
    }

    @Override
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        List<String> restoring = new ArrayList<>();
        Rows.read(
                        connection,
                        "SELECT SETTING_NAME, SETTING_VALUE FROM INFORMATION_SCHEMA.SETTINGS"
                                + " WHERE SETTING_NAME IN ('TIME ZONE', 'LAZY_QUERY_EXECUTION')",
                        row -> row.getString(1).equals("TIME ZONE")
                                ? "SET TIME ZONE '" + row.getString(2) + "'"
                                : "SET LAZY_QUERY_EXECUTION " + row.getString(2))
                .forEach(restoring::add);
        return restoring;
    }

    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        Address address = place.address();
        Path base = base(address);
        if (!Files.isRegularFile(Path.of(base + SUFFIX))) {
            throw new ToolException(
                    ErrorKind.CONNECT, "no such file", address + " (" + base + SUFFIX + ")", "check the path");
        }
        if (base.toString().contains(";")) {
            throw new ToolException(
                    ErrorKind.USAGE, "H2 can't open a path with a semicolon", address.toString(), "rename the file");
        }
        if (!place.session().allowCode()) {
            refuseCode(Path.of(base + SUFFIX), place);
        }
        String readOnly = access == Access.READ_ONLY ? ";ACCESS_MODE_DATA=r" : "";
        Connection connection = OwnDriver.connect(
                new org.h2.Driver(), "jdbc:h2:file:" + base + ";IFEXISTS=TRUE" + readOnly, properties(place));
        try {
            return prepare(connection, place, access);
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (var statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            connection.setReadOnly(access == Access.READ_ONLY);
            // Without this, H2 holds a whole result before it hands out the first row.
            statement.execute("SET LAZY_QUERY_EXECUTION 1");
            // Else it would be that of this process.
            statement.execute("SET TIME ZONE 'UTC'");
            TimeLimits limits = place.session().limits();
            if (limits.statement().isPresent()) {
                statement.execute("SET QUERY_TIMEOUT "
                        + Math.max(1, limits.statement().get().toMillis()));
            }
            if (limits.lock().isPresent()) {
                statement.execute(
                        "SET LOCK_TIMEOUT " + Math.max(1, limits.lock().get().toMillis()));
            }
        }
        return connection;
    }

    private static void refuseCode(Path file, PlaceAccess place) {
        List<String> code = StoredCode.in(file);
        if (!code.isEmpty()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "this file holds code, or reaches out of itself, and so was not opened: " + code.get(0)
                            + (code.size() > 1 ? " and " + (code.size() - 1) + " more" : ""),
                    place.label().withoutTable().toString(),
                    "if you trust whoever made it, say so with ?allow-code=true on the command line, or allow-code: true in connections.yaml");
        }
    }

    private static Properties properties(PlaceAccess place) {
        Properties properties = new Properties();
        properties.putAll(place.properties());
        properties.setProperty("user", place.user().orElse("sa"));
        properties.setProperty("password", place.password().map(Secret::reveal).orElse(""));
        return properties;
    }

    /** The path without the suffix that H2 adds by itself. */
    static Path base(Address address) {
        String location = address.location();
        return Path.of(
                        location.endsWith(SUFFIX)
                                ? location.substring(0, location.length() - SUFFIX.length())
                                : location)
                .toAbsolutePath();
    }
}
