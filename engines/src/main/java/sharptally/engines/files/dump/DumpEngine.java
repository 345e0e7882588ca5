package sharptally.engines.files.dump;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.files.FilePlace;
import sharptally.engines.files.kept.Kept;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.jdbc.embed.Embedded;

/** Backups that are written as SQL. */
public record DumpEngine(Embedded embedded) implements Engine {
    /** How long what was read of a dump stays without being read again. */
    private static final int USUAL_DAYS = 7;
    /** Dumps of fewer bytes are read fast enough each time. */
    private static final long SMALL_BYTES = 4L << 20;

    @Override
    public String name() {
        return "dump";
    }

    @Override
    public Place open(PlaceAccess access) {
        Address address = Fetched.of(access);
        DumpText text = DumpText.of(address);
        boolean fetched = !address.equals(access.address());
        Optional<Kept> kept = fetched || text.bytes() < SMALL_BYTES ? Optional.empty() : kept(access, text);
        return new FilePlace(access, new DumpFiles(KeptDump.of(text, flavour(access), kept)), embedded);
    }

    /** Where what is read of a dump is kept, and what was kept too long goes. */
    private static Optional<Kept> kept(PlaceAccess access, DumpText text) {
        Optional<Path> within = access.session().keeping();
        within.ifPresent(folder -> Kept.removeOld(folder, Instant.now()));
        long days = days(access);
        return days == 0
                ? Optional.empty()
                : within.flatMap(folder -> Kept.of(
                        folder,
                        text.location(),
                        access.properties().getOrDefault("written", "") + "\n" + text.state(),
                        Duration.ofDays(days)));
    }

    private static long days(PlaceAccess access) {
        String said = access.properties().getOrDefault("keep", USUAL_DAYS + "d");
        if (said.equals("no")) {
            return 0;
        } else if (said.matches("[1-9]\\d{0,3}d")) {
            return Long.parseLong(said.substring(0, said.length() - 1));
        }
        throw new ToolException(
                ErrorKind.USAGE,
                "neither no nor a number of days: " + said,
                access.label().withoutTable() + ", keep",
                "say keep=no or, to keep what is read for 30 days, keep=30d");
    }

    /** For whose database scripts are meant, where that is said. */
    private static Optional<Flavour> flavour(PlaceAccess access) {
        return Optional.ofNullable(access.properties().get("written"))
                .map(word -> Stream.of(Flavour.values())
                        .filter(flavour -> flavour.name().equalsIgnoreCase(word))
                        .findFirst()
                        .orElseThrow(() -> new ToolException(
                                ErrorKind.USAGE,
                                "no kind of dump: " + word,
                                access.label().withoutTable() + ", written",
                                "say postgresql, mariadb (MySQL's too) or sqlite")));
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
