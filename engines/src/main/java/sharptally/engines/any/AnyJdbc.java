package sharptally.engines.any;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import sharptally.core.place.Engine;
import sharptally.core.place.profile.Profile;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/**
 * Any database with a JDBC driver, by standard SQL, what the driver says of it, and what a profile knows. Address: the JDBC
 * URL.
 */
public final class AnyJdbc {
    private static final Map<Profile, Engine> ENGINES = new ConcurrentHashMap<>();

    private AnyJdbc() {}

    public static Engine engine() {
        return of(Profile.STANDARD);
    }

    /**
     * As the profile of a URL has it.
     *
     * @param url without {@code jdbc:}
     */
    public static Engine engine(String url) {
        return of(Profiles.of(url));
    }

    private static Engine of(Profile profile) {
        return ENGINES.computeIfAbsent(profile, AnyJdbc::made);
    }

    private static Engine made(Profile profile) {
        StandardDialect dialect = new StandardDialect(profile);
        AnyReading reading = new AnyReading(profile);
        return new JdbcEngine(
                "jdbc",
                new AnyConnector(profile),
                new AnyCatalogue(profile),
                reading,
                totals(profile),
                profile.checksums().filter(Profile.Checksums::proved).map(how -> new AnyHashing(profile, how)),
                profile.joins().filter(Profile.Joins::proved).map(how -> new AnyJoining(reading, how)),
                dialect,
                profile.hasTransactions()
                        ? Optional.of(new JdbcEngine.Writing(new AnyBinding(), dialect))
                        : Optional.empty());
    }

    /** By the aggregates of the standard or of a profile; what differs between databases is not offered else. */
    private static Totalling totals(Profile profile) {
        Profile.Totals said = profile.totals();
        String text = template(profile.of(Kind.TEXT).order().orElse("{column}"));
        return new Totalling(
                profile::quoted,
                template(said.wholeSum().orElse("SUM(CAST({column} AS BIGINT))")),
                template(said.decimalSum().orElse("SUM({column})")),
                template(said.floatingSum().orElse("SUM(CAST({column} AS DOUBLE PRECISION))")),
                text,
                text,
                "%s",
                said.textOrdered().orElse(false),
                said.textLength().map(AnyJdbc::template),
                said.bytesLength().map(AnyJdbc::template),
                Optional.empty(),
                Optional.empty());
    }

    /** As {@link Totalling} has its pieces of SQL. */
    private static String template(String form) {
        return form.replace("%", "%%").replace("{column}", "%s");
    }
}
