package sharptally.engines.jdbc;

import java.sql.SQLException;
import java.util.Locale;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Turns what a driver throws into one line for the user. */
final class Failures {
    private Failures() {}

    static ToolException wrap(ErrorKind kind, String what, String where, SQLException e) {
        String said = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
        return new ToolException(kind, what, where + " (" + said + ")", mend(said.toLowerCase(Locale.ROOT)), e);
    }

    private static String mend(String said) {
        if (said.contains("locked") || said.contains("in use")) {
            return "another program holds it: close that and try again";
        }
        if (said.contains("wrong user name or password")) {
            return "check user and password";
        }
        if (said.contains("readonly") || said.contains("read only") || said.contains("read-only")) {
            return "it can't be written: check the rights on the file";
        }
        return "";
    }
}
