package sharptally.cli.option;

import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import picocli.CommandLine.Spec.Target;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.union.UnionAddress;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;

/** The places and matches that a command works on: two addresses, or a job file. */
public final class JobChoice {
    @Spec(Target.MIXEE)
    CommandSpec command;

    @Parameters(index = "0", arity = "0..1", paramLabel = "SOURCE", description = "Source: the side that is right.")
    public Optional<String> source = Optional.empty();

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "TARGET",
            description = {
                "Target: a database, schema, table or file.",
                "With #table that table alone, else all of equal name."
            })
    public Optional<String> target = Optional.empty();

    @Option(names = "--source-schema", paramLabel = "SCHEMA", description = "Tables of this schema; as ?schema=NAME.")
    public Optional<String> sourceSchema = Optional.empty();

    @Option(
            names = "--allow-broken",
            paramLabel = "N",
            description = {
                "Pass over up to N broken records of a text file.",
                "Those with too many or too few fields; the result says so, and the exit code is 5."
            })
    public Optional<Integer> allowBroken = Optional.empty();

    @Option(names = "--target-schema", paramLabel = "SCHEMA", description = "The same of the target.")
    public Optional<String> targetSchema = Optional.empty();

    @Option(names = "--job", paramLabel = "FILE", description = "Run a job file.")
    public Optional<Path> jobFile = Optional.empty();

    @Mixin
    public TableChoice tables = new TableChoice();

    @Option(
            names = "--key",
            split = ",",
            paramLabel = "COLUMN",
            description = {"Key columns. Default: primary or unique key.", "Without one, whole rows are counted."})
    public List<String> key = List.of();

    @Option(
            names = "--leave-out-column",
            split = ",",
            paramLabel = "COLUMN",
            description = "Not these columns; * any letters, type:TYPE.")
    public List<String> leaveOut = List.of();

    @Option(
            names = "--workers",
            paramLabel = "N",
            description = {
                "Tables worked on at once. Default: 1.",
                "Each over a connection of its own per side; a job file may say another number."
            })
    public Optional<Integer> workers = Optional.empty();

    @Option(
            names = "--runs",
            paramLabel = "FOLDER",
            defaultValue = RunChoice.DEFAULT_RUNS,
            description = "Where runs are kept. Default: ${DEFAULT-VALUE}.")
    public Path runs = Path.of(RunChoice.DEFAULT_RUNS);

    /** From which times are counted that a job file names from now: when a run began, where it is resumed. */
    public Clock clock = Clock.systemUTC();

    /** What is to be worked on, of a command that knows one target. */
    public JobRequest wish() {
        List<JobRequest> all = wishes(List.of());
        if (all.size() > 1) {
            throw usage(
                    "a job file with several targets is for compare",
                    "write one that includes it, with a target of its own");
        }
        return all.get(0);
    }

    /**
     * What is to be worked on, for each target.
     *
     * @param further targets that are named behind the first one
     */
    public List<JobRequest> wishes(List<String> further) {
        JobRequest first = checked();
        if (jobFile.isPresent()) {
            // The target of a run of such a file stands beside it.
            List<String> named =
                    target.map(List::of).orElse(first.jobFile().orElseThrow().targets());
            return named.size() == 1 && target.isEmpty()
                    ? List.of(first)
                    : named.stream()
                            .map(one -> first.to(Connections.ofUser().resolveOfFile(one)))
                            .toList();
        }
        List<JobRequest> all = new ArrayList<>(List.of(first));
        further.forEach(one ->
                all.add(first.to(Connections.ofUser().resolve(withBroken(inSchema(one, targetSchema))))));
        if (all.stream().map(one -> one.target().label()).distinct().count() < all.size()) {
            throw usage("the same target is named twice", "name each once");
        }
        return all;
    }

    private JobRequest checked() {
        if (jobFile.isPresent() && (source.isPresent() || !key.isEmpty() || !leaveOut.isEmpty())) {
            throw usage("a job file already says which databases, keys and columns", "give --job alone");
        }
        if (jobFile.isEmpty() && (source.isEmpty() || target.isEmpty())) {
            throw usage("two databases are needed", "give SOURCE and TARGET, or --job");
        }
        workers.filter(n -> n < 1 || n > 99).ifPresent(n -> {
            throw usage("--workers should be from 1 to 99, not " + n, "");
        });
        return jobFile.isPresent() ? ofJobFile(jobFile.get()) : ofPlaces();
    }

    /** An address of files with how much in them may be broken, as it will stand in the run. */
    private String withBroken(String address) {
        return allowBroken.isPresent() && address.matches("(?s)(csv|tsv|s3|https?):.*")
                ? with(address, "allow-broken", allowBroken.get().toString())
                : address;
    }

    /** An address with a schema among its options, as it will stand in the run. */
    public static String inSchema(String address, Optional<String> schema) {
        return schema.map(name -> with(address, "schema", name)).orElse(address);
    }

    private static String with(String address, String option, String value) {
        if (UnionAddress.isOne(address)) {
            Address whole = Address.parse(address);
            Address each = Address.parse(UnionAddress.of(whole)
                    .each(part -> with(part, option, value))
                    .toString());
            return whole.table().map(each::withTable).orElse(each).toString();
        }
        int hash = address.indexOf('#');
        String place = hash < 0 ? address : address.substring(0, hash);
        String name = java.net.URLEncoder.encode(value, java.nio.charset.StandardCharsets.UTF_8);
        return place + (place.indexOf('?') < 0 ? "?" : "&") + option + "=" + name
                + (hash < 0 ? "" : address.substring(hash));
    }

    private JobRequest ofPlaces() {
        Connections places = Connections.ofUser();
        return new JobRequest(
                places.resolve(withBroken(inSchema(source.orElseThrow(), sourceSchema))),
                places.resolve(withBroken(inSchema(target.orElseThrow(), targetSchema))),
                Optional.empty(),
                key,
                leaveOut,
                tables.wanted(),
                tables.notWanted(),
                Narrowing.NONE,
                false);
    }

    private JobRequest ofJobFile(Path file) {
        JobRequest all = wishOf(file, clock);
        return new JobRequest(
                all.source(),
                all.target(),
                all.jobFile(),
                List.of(),
                List.of(),
                tables.wanted(),
                tables.notWanted(),
                Narrowing.NONE,
                all.allowEmpty());
    }

    /** All that a job file describes. */
    public static JobRequest wishOf(Path file) {
        return wishOf(file, Clock.systemUTC());
    }

    private static JobRequest wishOf(Path file, Clock clock) {
        JobFile read = JobFileReader.read(file, System.getenv(), clock);
        Connections places = Connections.ofUser();
        return new JobRequest(
                places.resolveOfFile(read.source()),
                places.resolveOfFile(read.target()),
                Optional.of(read),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Narrowing.NONE,
                read.allowEmpty());
    }

    public int workersOf(JobRequest wish) {
        return workers.or(() -> wish.jobFile().flatMap(JobFile::workers)).orElse(1);
    }

    private ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, command.name(), mend);
    }
}
