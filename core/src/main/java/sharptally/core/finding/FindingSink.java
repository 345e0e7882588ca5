package sharptally.core.finding;

/** Where the findings of one match go as they are made, in key order. Used by one thread. */
public interface FindingSink {
    void accept(Finding finding);

    /** Forgets all findings so far: the match is compared anew from its start. */
    void restart();
}
