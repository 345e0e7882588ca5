package sharptally.core.place;

/** Which of the two sides of a comparison. */
public enum Side {
    SOURCE,
    TARGET;

    public Side other() {
        return this == SOURCE ? TARGET : SOURCE;
    }

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
