package sharptally.engines.jdbc;

import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLRecoverableException;
import java.sql.SQLTransientException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Turns what a driver throws into one line for the user. */
public final class Failures {
    /** SQLSTATEs of connections that broke and servers that went away, by how they begin. */
    private static final List<String> BROKEN = List.of("08", "57P0");

    private static final String TLS =
            "the server was not proved by TLS: give tls=verify with tls-authority=FILE that vouches"
                    + " for it, or tls=require to encrypt without knowing whom, or tls=off; an old server may only speak what Java"
                    + " refuses";

    private static final String OTHERS =
            "another session holds it, perhaps one that changes the table: try again later, or wait longer with lock-wait";

    private static final String TOO_OLD =
            "the server keeps no rows as old as this any more: let it keep them longer (undo_retention), or read fewer rows at"
                    + " a time";

    /** What to do, by a word of the message. */
    private static final List<Map.Entry<String, String>> BY_WORD = List.of(
            Map.entry("row-level security", "some rows are hidden from this user: read as one that sees all of them"),
            Map.entry("connection refused", "check host and port, and that the server runs"),
            Map.entry("locked", "another program holds it: close that and try again"),
            Map.entry("in use", "another program holds it: close that and try again"),
            Map.entry("conflicting lock", "another program holds it: close that and try again"),
            Map.entry("wrong user name or password", "check user and password"),
            Map.entry("ora-01017", "check user and password"),
            Map.entry("login failed", "check user and password"),
            Map.entry("ora-01555", TOO_OLD),
            Map.entry("ora-08180", TOO_OLD),
            Map.entry("ora-01466", "the table was made or altered after reading began: compare again"),
            Map.entry("ora-12514", "check the service's name"),
            Map.entry(
                    "hot journal",
                    "a program that wrote to it was interrupted: open it once with one that may write, which takes the rest back"),
            Map.entry("readonly", "it can't be written: check the rights on the file"),
            Map.entry("read-only", "it can't be written: check the rights on it"),
            Map.entry("statement timeout", "give it longer with statement-timeout"),
            Map.entry("max_statement_time", "give it longer with statement-timeout"),
            Map.entry("lock timeout", OTHERS),
            Map.entry("lock wait timeout", OTHERS),
            Map.entry("ssl", TLS),
            Map.entry("certificat", TLS),
            Map.entry("pkix", TLS),
            Map.entry("handshake", TLS),
            Map.entry("hostnameverifier", TLS),
            Map.entry("refused", "check host and port, and that the server runs"),
            Map.entry("unknown host", "check the host"),
            Map.entry("no such host", "check the host's name, and the network"),
            Map.entry("socket fail", "check host and port, and that the server runs"));

    /** What to do, by SQLSTATE. */
    private static final Map<String, String> BY_STATE = Map.of(
            "28P01", "check user and password",
            "28000", "check user and password",
            "3D000", "check the database's name",
            "42000", "check the database's name, and the user's rights",
            "42501", "ask for the right to read it");

    private Failures() {}

    public static ToolException wrap(ErrorKind kind, String what, String where, SQLException e) {
        String said =
                String.valueOf(e.getMessage()).lines().findFirst().orElse("").replaceAll("; SQL statement:$", "");
        said = unknownHost(e).map(host -> "no such host: " + host).orElse(said);
        ErrorKind told = kind == ErrorKind.READ && isBroken(e) ? ErrorKind.BROKEN : kind;
        return new ToolException(told, what, where + " (" + said + ")", mend(said.toLowerCase(Locale.ROOT), e), e);
    }

    /** Drivers do not all say of a host that nobody knows it. */
    private static Optional<String> unknownHost(Throwable e) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof java.net.UnknownHostException unknown) {
                return Optional.ofNullable(unknown.getMessage()).map(text -> text.replaceFirst(":.*", ""));
            }
        }
        return Optional.empty();
    }

    private static boolean isBroken(SQLException e) {
        String state = Optional.ofNullable(e.getSQLState()).orElse("");
        return BROKEN.stream().anyMatch(state::startsWith)
                || e instanceof SQLNonTransientConnectionException
                || e instanceof SQLRecoverableException
                || e instanceof SQLTransientException && !(e instanceof java.sql.SQLTimeoutException);
    }

    private static String mend(String said, SQLException e) {
        return Optional.ofNullable(e.getSQLState())
                .filter(state -> !said.contains("row-level security"))
                .map(BY_STATE::get)
                .or(() -> BY_WORD.stream()
                        .filter(entry -> said.contains(entry.getKey()))
                        .map(Map.Entry::getValue)
                        .findFirst())
                .orElse("");
    }
}
