package sharptally.core.compare.method;

import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.place.part.Obstacle;

/** What was asked for can't be done with a match, and why. */
public final class UnusableMethod extends ToolException {
    private final transient Obstacle obstacle;

    /**
     * @param what what can't be done
     * @param match by its name
     */
    public UnusableMethod(String what, Obstacle obstacle, String match, Hint hint) {
        super(ErrorKind.USAGE, what, match, hint);
        this.obstacle = obstacle;
    }

    public Obstacle obstacle() {
        return obstacle;
    }
}
