package sharptally.formats.run;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Whether a run was completed. */
public enum RunState {
    /** Still going on, or interrupted: it proves nothing. */
    INCOMPLETE,
    COMPLETE;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
