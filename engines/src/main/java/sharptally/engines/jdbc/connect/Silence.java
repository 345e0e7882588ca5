package sharptally.engines.jdbc.connect;

import java.time.Duration;
import sharptally.core.place.PlaceAccess;

/** How long a server may say nothing before the connection is given up, so that nobody waits for one that is gone. */
public final class Silence {
    /** For a connection to be made, login and all. */
    public static final Duration LOGIN = Duration.ofSeconds(30);

    /** No single range takes that long; a server that sorts a large table without an index may take its time. */
    private static final Duration LONGEST = Duration.ofHours(2);

    /** What the server has to end a statement that took too long, and to say so. */
    private static final Duration GRACE = Duration.ofMinutes(1);

    private Silence() {}

    /** For an answer: somewhat longer than a statement may take, where that is limited. */
    public static Duration answer(PlaceAccess place) {
        return place.session().limits().statement().map(t -> t.plus(GRACE)).orElse(LONGEST);
    }
}
