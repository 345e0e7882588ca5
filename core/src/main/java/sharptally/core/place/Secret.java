package sharptally.core.place;

/** Something that must not be shown; whatever prints it prints a mask. */
public final class Secret {
    private final String value;

    public Secret(String value) {
        this.value = value;
    }

    /** The secret itself, for the driver alone. */
    public String reveal() {
        return value;
    }

    @Override
    public String toString() {
        return "***";
    }
}
