package sharptally.formats.run;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Whether a run went to its end. */
public enum RunState {
    /** Still going on, or broken off: it proves nothing. */
    INCOMPLETE,
    COMPLETE;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
