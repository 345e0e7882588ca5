package sharptally.core.place.part;

import sharptally.core.shape.RowFilter;

/** Choosing a sample of keys while reading. */
public interface Sampling {
    /** Whether the place itself can read the rows of a sample alone. */
    boolean chooses(RowFilter.Sample sample);
}
