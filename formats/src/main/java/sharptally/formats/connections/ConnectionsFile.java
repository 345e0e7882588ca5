package sharptally.formats.connections;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.SessionSettings;
import sharptally.core.place.TimeLimits;
import sharptally.core.place.Tls;
import sharptally.formats.InputFile;
import sharptally.formats.job.Yaml;

/**
 * Named connections, and how each is opened. Nothing of the file's own text but names is ever told: it may hold what should
 * not be seen.
 */
public final class ConnectionsFile {
    private static final Pattern DURATION = Pattern.compile("(\\d{1,9})(ms|s|m|h)");

    /** Who wrote an address. */
    public enum Origin {
        /** The user, on the command line. */
        COMMAND_LINE,
        /** A job file or run folder, which may come from somebody else. */
        FILE
    }

    /** The file as it stands; an entry is looked into when it is needed, so that a broken one is in no other's way. */
    record Content(Map<String, JsonNode> connections) {}

    /** One named connection. */
    record Entry(
            String address,
            Optional<String> user,
            Optional<Passwords.Source> password,
            Optional<Map<String, String>> properties,
            Optional<String> statementTimeout,
            Optional<String> lockWait,
            Optional<Boolean> allowCode,
            Optional<Integer> maxConnections,
            Optional<String> tls,
            Optional<String> tlsAuthority,
            Optional<String> tlsCertificate,
            Optional<String> tlsKey,
            Optional<String> tlsPasswordEnv) {
        static final Entry NOTHING = new Entry(
                "",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());

        /** What it says of TLS, as options of an address. */
        Map<String, String> tlsOptions() {
            Map<String, String> options = new HashMap<>();
            tls.ifPresent(v -> options.put("tls", v));
            tlsAuthority.ifPresent(v -> options.put("tls-authority", v));
            tlsCertificate.ifPresent(v -> options.put("tls-certificate", v));
            tlsKey.ifPresent(v -> options.put("tls-key", v));
            tlsPasswordEnv.ifPresent(v -> options.put("tls-password-env", v));
            return options;
        }
    }

    private final Optional<Path> file;
    private final Map<String, JsonNode> connections;
    private final Passwords passwords;

    private ConnectionsFile(Optional<Path> file, Map<String, JsonNode> connections, Passwords passwords) {
        this.file = file;
        this.connections = connections;
        this.passwords = passwords;
    }

    /**
     * The first of two files that exists; with neither, no name is known.
     *
     * @param prompt asks the user for the password of a database; empty where nobody can be asked
     * @throws ToolException when the file is not a connections file
     */
    public static ConnectionsFile find(
            Path first, Path second, Map<String, String> environment, Function<String, Optional<Secret>> prompt) {
        Optional<Path> found = Files.exists(first)
                ? Optional.of(first)
                : Files.exists(second) ? Optional.of(second) : Optional.empty();
        return new ConnectionsFile(
                found, found.map(ConnectionsFile::read).orElse(Map.of()), new Passwords(environment, prompt));
    }

    private static Map<String, JsonNode> read(Path file) {
        try {
            Content content = Yaml.MAPPER.readValue(InputFile.text(file), Content.class);
            if (content == null || content.connections() == null) {
                throw problem("a connections file needs 'connections:'", file.toString(), "see docs/connections.md");
            }
            return content.connections();
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a connections file: " + e.getPropertyName(),
                    Yaml.whereKeyStands(file, e),
                    Nearest.question(
                            e.getPropertyName(),
                            e.getKnownPropertyIds().stream()
                                    .map(String::valueOf)
                                    .toList()));
        } catch (JacksonException e) {
            throw problem("not a connections file", Yaml.at(file, e.getLocation()), "see docs/connections.md");
        } catch (IOException e) {
            throw problem("can't read the connections file", file + " (" + e.getMessage() + ")", "check the file");
        }
    }

    /** The names of all connections, in the order of the file. */
    public List<String> names() {
        return List.copyOf(connections.keySet());
    }

    private Entry entry(String name) {
        JsonNode node = connections.get(name);
        if (node == null) {
            throw problem(
                    "no connection of this name",
                    "@" + name,
                    file.isEmpty()
                            ? "there is no connections.yaml here or in the user's configuration folder"
                            : Nearest.hint(name, names(), file.get() + " has: "));
        }
        String where = file.map(Path::toString).orElse("") + ", connection " + name;
        if (node.path("password").isValueNode()) {
            throw problem(
                    "a password must not stand in a connections file",
                    where,
                    "use 'password: {env: NAME}', {file: PATH}, {command: PROGRAM} or {prompt: true}");
        }
        Entry entry;
        try {
            entry = Yaml.MAPPER.treeToValue(node, Entry.class);
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a connections file: " + e.getPropertyName(),
                    where,
                    Nearest.question(
                            e.getPropertyName(),
                            e.getKnownPropertyIds().stream()
                                    .map(String::valueOf)
                                    .toList()));
        } catch (JacksonException e) {
            String key = e instanceof JsonMappingException m
                    ? m.getPath().stream()
                            .map(p -> String.valueOf(p.getFieldName()))
                            .collect(Collectors.joining("."))
                    : "";
            throw problem("not as it should be" + (key.isEmpty() ? "" : ": " + key), where, "see docs/connections.md");
        }
        if (entry != null && entry.maxConnections().filter(n -> n < 1).isPresent()) {
            throw problem("not as it should be: max-connections", where, "give 1 or more");
        }
        if (entry == null || entry.address() == null) {
            throw problem("a connection needs an address", where, "see docs/connections.md");
        }
        return entry;
    }

    /** As the user wrote it on the command line. */
    public PlaceAccess resolve(Address label) {
        return resolve(label, Origin.COMMAND_LINE);
    }

    /**
     * @throws ToolException when the name is not known, an option is not, or may not stand there, or a password is not
     *     where it should be
     */
    public PlaceAccess resolve(Address label, Origin origin) {
        if (!label.isNamed()) {
            return complete(label, label, Entry.NOTHING, origin);
        }
        int question = label.location().indexOf('?');
        String name = question < 0 ? label.location() : label.location().substring(0, question);
        Entry entry = entry(name);
        Address address = Address.parse(entry.address());
        if (address.isNamed()) {
            throw problem("a connection can't be another one's name", label.toString(), "give its address");
        }
        entry.properties()
                .orElse(Map.of())
                .keySet()
                .forEach(key -> AddressOptions.checkDriver(address.engine(), key, label));
        // What the name is given says more than what its entry does.
        String more = question < 0 ? "" : label.location().substring(question + 1);
        AddressOptions.sorted(address.engine(), more, label, origin, new HashMap<>());
        String both = more.isEmpty() ? "" : (address.location().contains("?") ? "&" : "?") + more;
        return complete(
                label,
                new Address(address.engine(), address.location() + both, address.table()),
                entry,
                Origin.COMMAND_LINE);
    }

    /**
     * @param entry what is said of it beside its address
     */
    private PlaceAccess complete(Address label, Address address, Entry entry, Origin origin) {
        Optional<Passwords.Source> source = entry.password();
        Map<String, String> all = new HashMap<>(entry.properties().orElse(Map.of()));
        all.keySet().stream()
                .filter(key -> Address.SECRET_NAME.matcher(key).matches())
                .findFirst()
                .ifPresent(key -> {
                    throw problem(
                            "a password must not stand in a connections file",
                            label + ", property " + key,
                            "use 'password: {env: NAME}'");
                });
        Map<String, String> ours;
        Address bare = address;
        int question = address.engine().equals("jdbc") ? -1 : address.location().indexOf('?');
        if (question >= 0) {
            bare = new Address(address.engine(), address.location().substring(0, question), address.table());
            ours = AddressOptions.sorted(
                    address.engine(), address.location().substring(question + 1), label, origin, all);
        } else {
            ours = Map.of();
        }
        Optional<String> env =
                Optional.ofNullable(ours.get("password-env")).or(() -> source.flatMap(Passwords.Source::env));
        Optional<String> passwordFile =
                Optional.ofNullable(ours.get("password-file")).or(() -> source.flatMap(Passwords.Source::file));
        boolean shared = "true".equals(ours.get("password-shared"))
                || source.flatMap(Passwords.Source::shared).orElse(false);
        Optional<Secret> password = env.map(name -> passwords.fromEnvironment(name, label))
                .or(() -> passwordFile.map(path -> Passwords.fromFile(Path.of(path), label, shared)))
                .or(() -> source.flatMap(Passwords.Source::command)
                        .map(words -> Passwords.fromCommand(words, file.orElseThrow(), label)))
                .or(() ->
                        source.flatMap(Passwords.Source::prompt).filter(p -> p).map(p -> passwords.asked(label)));
        return new PlaceAccess(
                label,
                bare,
                entry.user(),
                password,
                all,
                tls(entry.tlsOptions(), ours, label),
                Optional.ofNullable(ours.get("schema")),
                new SessionSettings(
                        new TimeLimits(
                                limit("statement-timeout", ours, entry.statementTimeout(), label),
                                limit("lock-wait", ours, entry.lockWait(), label),
                                Optional.empty()),
                        entry.allowCode().orElse(false) || "true".equals(ours.get("allow-code")),
                        true,
                        Optional.empty(),
                        Optional.empty(),
                        entry.maxConnections().orElse(Integer.MAX_VALUE),
                        Optional.empty()));
    }

    /** What the address says goes before what its entry does. */
    private Tls tls(Map<String, String> entry, Map<String, String> address, Address label) {
        Map<String, String> said = "off".equals(address.get("tls")) ? new HashMap<>() : new HashMap<>(entry);
        address.entrySet().stream()
                .filter(option -> option.getKey().startsWith("tls"))
                .forEach(option -> said.put(option.getKey(), option.getValue()));
        Optional<Tls.Mode> mode = Optional.ofNullable(said.get("tls")).map(word -> {
            try {
                return Tls.Mode.valueOf(word.toUpperCase(Locale.ROOT));
            } catch (IllegalArgumentException e) {
                throw problem("no such way of TLS: " + word, label + ", tls", "say verify, require or off");
            }
        });
        List.of("tls-authority", "tls-certificate", "tls-key").forEach(name -> {
            if (said.containsKey(name) && !Files.isReadable(Path.of(said.get(name)))) {
                throw problem("can't read this file", label + ", " + name + " " + said.get(name), "check the path");
            }
            if (said.containsKey(name) && mode.filter(m -> m == Tls.Mode.OFF).isPresent()) {
                throw problem("without TLS this has no effect", label + ", " + name, "leave it out, or tls=off");
            }
        });
        return new Tls(
                mode,
                Optional.ofNullable(said.get("tls-authority")),
                Optional.ofNullable(said.get("tls-certificate")),
                Optional.ofNullable(said.get("tls-key")),
                Optional.ofNullable(said.get("tls-password-env")).map(name -> passwords.fromEnvironment(name, label)));
    }

    private static Optional<Duration> limit(
            String name, Map<String, String> address, Optional<String> entry, Address label) {
        return Optional.ofNullable(address.get(name)).or(() -> entry).map(text -> duration(name, text, label));
    }

    private static Duration duration(String name, String text, Address label) {
        Matcher matcher = DURATION.matcher(text);
        if (!matcher.matches()) {
            throw problem("not a length of time: " + text, label + ", " + name, "write it like 30s, 5m or 2h");
        }
        long number = Long.parseLong(matcher.group(1));
        return switch (matcher.group(2)) {
            case "ms" -> Duration.ofMillis(number);
            case "s" -> Duration.ofSeconds(number);
            case "m" -> Duration.ofMinutes(number);
            default -> Duration.ofHours(number);
        };
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
