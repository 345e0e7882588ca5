package sharptally.api;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.api.job.Context;
import sharptally.api.job.DraftJob;
import sharptally.api.job.connect.Endpoints;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.formats.connections.ConnectionsFile;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;

/**
 * Where to begin. Immutable and safe to share between threads; the jobs that it makes are each used by one thread.
 *
 * <pre>{@code
 * try (ComparisonResult result = SharpTally.create()
 *         .compare(Database.of("old", oldPool), Database.of("new", newPool))
 *         .run()) {
 *     assertEquals(Verdict.SAME, result.verdict(), result.text());
 * }
 * }</pre>
 */
public final class SharpTally {
    private final Context context;
    private final Map<String, String> environment;
    private final Optional<Path> connections;
    private final boolean allowDriverAddresses;

    private SharpTally(Builder builder) {
        String version = Optional.ofNullable(SharpTally.class.getPackage().getImplementationVersion())
                .orElse("of a class path");
        context = new Context(version, builder.clock, builder.temporary);
        environment = Map.copyOf(builder.environment);
        connections = builder.connections;
        allowDriverAddresses = builder.allowDriverAddresses;
    }

    /** With the system's clock and temporary folder, no environment variable and no connections file. */
    public static SharpTally create() {
        return builder().build();
    }

    public static Builder builder() {
        return new Builder();
    }

    /** Prepares a comparison of the rows of two databases, or of one table of each. */
    public Comparison compare(Database source, Database target) {
        return new Comparison(this, SharpTallyException.told(() -> JobInput.of(this, source, target)));
    }

    /**
     * Prepares the comparison that a job file describes.
     *
     * @throws SharpTallyException of kind {@code FILE} when it can't be understood
     */
    public Comparison compare(Path jobFile) {
        return new Comparison(this, SharpTallyException.told(() -> JobInput.of(this, jobFile)));
    }

    /** Prepares totals of two databases, which are far cheaper than their rows. */
    public Totals totals(Database source, Database target) {
        return new Totals(this, SharpTallyException.told(() -> JobInput.of(this, source, target)));
    }

    /** Prepares the totals and expectations of a job file. */
    public Totals totals(Path jobFile) {
        return new Totals(this, SharpTallyException.told(() -> JobInput.of(this, jobFile)));
    }

    /** Prepares checksums of one table. */
    public Checksum checksum(Database table) {
        return new Checksum(this, SharpTallyException.told(() -> table.endpoint(this)));
    }

    /**
     * Writes a job file that pairs the tables and columns of two databases, for a person to look through.
     *
     * @param readRows whether rows may be looked at, to find keys and conversions
     * @return its text
     */
    public String draft(Database source, Database target, boolean readRows) {
        return Work.done(interrupted -> new DraftJob(
                        source.endpoint(this), target.endpoint(this), readRows, false, List.of(), List.of(), List.of())
                .draft(context.tool())
                .jobFile());
    }

    /**
     * A comparison that was kept in a run folder, by this library or by the command line.
     *
     * @param source the database as it is opened now, for {@code recheck} and {@code apply}
     */
    public ComparisonResult open(Path runFolder, Database source, Database target) {
        return SharpTallyException.told(() -> ComparisonResult.kept(this, runFolder, source, target));
    }

    Context context() {
        return context;
    }

    Endpoint resolved(String address) {
        return resolved(address, ConnectionsFile.Origin.COMMAND_LINE);
    }

    /** An address that a job file names, which may come from somebody else. */
    Endpoint resolvedOfFile(String address) {
        if (Endpoints.namesDriver(address) && !allowDriverAddresses) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a job file names a driver's own address, which may make it run code or read files",
                    Address.parse(address).withoutTable().toString(),
                    "if you trust it, say so with allowDriverAddresses, or name it in the connections file");
        }
        return resolved(address, ConnectionsFile.Origin.FILE);
    }

    private Endpoint resolved(String address, ConnectionsFile.Origin origin) {
        Path none = Path.of("no connections file");
        ConnectionsFile file =
                ConnectionsFile.find(connections.orElse(none), none, environment, place -> Optional.empty());
        return Endpoints.of(address, part -> Endpoints.of(file.resolve(part, origin), context.temporary()));
    }

    JobFile read(Path jobFile) {
        return JobFileReader.read(jobFile, environment, context.clock());
    }

    /** What a {@link SharpTally} is made of. Used by one thread. */
    public static final class Builder {
        private java.time.Clock clock = java.time.Clock.systemUTC();
        private Path temporary = Path.of(System.getProperty("java.io.tmpdir"));
        private Map<String, String> environment = Map.of();
        private Optional<Path> connections = Optional.empty();
        private boolean allowDriverAddresses;

        private Builder() {}

        /** Where rows are sorted and results are kept that nobody wants to keep. Default: the system's. */
        public Builder temporaryFolder(Path folder) {
            temporary = folder;
            return this;
        }

        /** What time it is in what is written down. Default: the system's clock. */
        public Builder clock(java.time.Clock wanted) {
            clock = wanted;
            return this;
        }

        /** Variables that addresses and job files may name, such as those of {@code System.getenv()}. Default: none. */
        public Builder environment(Map<String, String> variables) {
            environment = variables;
            return this;
        }

        /** The file of named connections. Default: none. */
        public Builder connections(Path file) {
            connections = Optional.of(file);
            return this;
        }

        /** Lets job files name addresses of drivers, which may make them run code or read files. */
        public Builder allowDriverAddresses() {
            allowDriverAddresses = true;
            return this;
        }

        public SharpTally build() {
            return new SharpTally(this);
        }
    }
}
