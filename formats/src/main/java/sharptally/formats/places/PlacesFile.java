package sharptally.formats.places;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
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
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.core.place.SessionSettings;
import sharptally.core.place.Tls;
import sharptally.formats.InputFile;
import sharptally.formats.job.Nearest;
import sharptally.formats.job.Yaml;

/**
 * Named places, and how each is opened. Also reads what an address says for itself: options behind a question mark, which
 * are {@code schema}, {@code password-env}, {@code password-file}, {@code password-shared}, {@code statement-timeout},
 * {@code allow-code}, {@code tls}, {@code tls-authority}, {@code tls-certificate}, {@code tls-key}, {@code tls-password-env} and, for settings of the driver, {@code driver.NAME}. No other is known, so that one that is misspelt
 * does not go without effect. Nothing of the file's own text but names is ever told: it may hold what should not be seen.
 */
public final class PlacesFile {
    private static final Pattern DURATION = Pattern.compile("(\\d{1,9})(ms|s|m|h)");

    private static final String DRIVER = "driver.";
    private static final List<String> KNOWN = List.of(
            "schema",
            "password-env",
            "password-file",
            "password-shared",
            "statement-timeout",
            "allow-code",
            "tls",
            "tls-authority",
            "tls-certificate",
            "tls-key",
            "tls-password-env");

    /** Who wrote an address. */
    public enum Origin {
        /** The user, on the command line. */
        COMMAND_LINE,
        /** A job file or run folder, which may come from somebody else. */
        FILE
    }

    /** What only the user may say of a place, not a file that may come from somebody else. */
    private static final List<String> OF_USER = List.of("allow-code", "password-shared");

    /** The file as it stands; an entry is looked into when it is needed, so that a broken one is in no other's way. */
    record Content(Map<String, JsonNode> places) {}

    /** One named place. */
    record Entry(
            String address,
            Optional<String> user,
            Optional<PasswordSource> password,
            Optional<Map<String, String>> properties,
            Optional<String> statementTimeout,
            Optional<Boolean> allowCode,
            Optional<Integer> connections,
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

    /**
     * Where a password is: exactly one of the parts.
     *
     * @param shared whether others may be able to read its file
     */
    record PasswordSource(
            Optional<String> env, Optional<String> file, Optional<Boolean> prompt, Optional<Boolean> shared) {}

    private final Optional<Path> file;
    private final Map<String, JsonNode> places;
    private final Map<String, String> environment;
    private final Function<String, Optional<Secret>> prompt;

    private PlacesFile(
            Optional<Path> file,
            Map<String, JsonNode> places,
            Map<String, String> environment,
            Function<String, Optional<Secret>> prompt) {
        this.file = file;
        this.places = places;
        this.environment = environment;
        this.prompt = prompt;
    }

    /**
     * The first of two files that exists; with neither, no name is known.
     *
     * @param prompt asks the user for the password of a place; empty where nobody can be asked
     * @throws ToolException when the file is not a places file
     */
    public static PlacesFile find(
            Path first, Path second, Map<String, String> environment, Function<String, Optional<Secret>> prompt) {
        Optional<Path> found = Files.exists(first)
                ? Optional.of(first)
                : Files.exists(second) ? Optional.of(second) : Optional.empty();
        return new PlacesFile(found, found.map(PlacesFile::read).orElse(Map.of()), environment, prompt);
    }

    private static Map<String, JsonNode> read(Path file) {
        try {
            Content content = Yaml.MAPPER.readValue(InputFile.text(file), Content.class);
            if (content == null || content.places() == null) {
                throw problem("a places file needs 'places:'", file.toString(), "see docs/places.md");
            }
            return content.places();
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a places file: " + e.getPropertyName(),
                    Yaml.whereKeyStands(file, e),
                    Nearest.question(
                            e.getPropertyName(),
                            e.getKnownPropertyIds().stream()
                                    .map(String::valueOf)
                                    .toList()));
        } catch (JacksonException e) {
            throw problem("not a places file", Yaml.at(file, e.getLocation()), "see docs/places.md");
        } catch (IOException e) {
            throw problem("can't read the places file", file + " (" + e.getMessage() + ")", "check the file");
        }
    }

    private Entry entry(String name) {
        JsonNode node = places.get(name);
        if (node == null) {
            throw problem(
                    "no place of this name",
                    "@" + name,
                    file.isEmpty()
                            ? "there is no places.yaml here or in the user's configuration folder"
                            : file.get() + " has: " + String.join(", ", places.keySet()));
        }
        String where = file.map(Path::toString).orElse("") + ", place " + name;
        if (node.path("password").isValueNode()) {
            throw problem(
                    "a password must not stand in a places file",
                    where,
                    "use 'password: {env: NAME}', {file: PATH} or {prompt: true}");
        }
        Entry entry;
        try {
            entry = Yaml.MAPPER.treeToValue(node, Entry.class);
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a places file: " + e.getPropertyName(),
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
            throw problem("not as it should be" + (key.isEmpty() ? "" : ": " + key), where, "see docs/places.md");
        }
        // One connection per place is all that is ever used, so a limit can only be too low.
        if (entry != null && entry.connections().filter(n -> n < 1).isPresent()) {
            throw problem("a place needs at least one connection", where, "give 1 or more");
        }
        if (entry == null || entry.address() == null) {
            throw problem("a place needs an address", where, "see docs/places.md");
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
            throw problem("a place can't be another place's name", label.toString(), "give its address");
        }
        entry.properties().orElse(Map.of()).keySet().forEach(key -> checkDriver(address.engine(), key, label));
        // What the name is given says more than what its entry does.
        String more = question < 0 ? "" : label.location().substring(question + 1);
        options(address.engine(), more, label, origin, new HashMap<>());
        String both = more.isEmpty() ? "" : (address.location().contains("?") ? "&" : "?") + more;
        return complete(
                label,
                new Address(address.engine(), address.location() + both, address.table()),
                entry,
                Origin.COMMAND_LINE);
    }

    /** Sorts options into ours and the driver's, and refuses all others. */
    private static Map<String, String> options(
            String engine, String text, Address label, Origin origin, Map<String, String> driver) {
        Map<String, String> ours = new HashMap<>();
        for (String option : text.isEmpty() ? new String[0] : text.split("&")) {
            String[] parts = option.split("=", 2);
            String value = parts.length == 1 ? "" : URLDecoder.decode(parts[1], StandardCharsets.UTF_8);
            if (parts[0].startsWith(DRIVER) && parts[0].length() > DRIVER.length()) {
                String name = parts[0].substring(DRIVER.length());
                if (origin == Origin.FILE) {
                    throw problem(
                            "a setting of the driver must not stand in a job file or run folder",
                            label.withoutTable() + ", " + parts[0],
                            "name the place in places.yaml, with its properties");
                }
                checkDriver(engine, name, label);
                driver.put(name, value);
            } else if (origin == Origin.FILE && OF_USER.contains(parts[0])) {
                throw problem(
                        "this option must not stand in a job file or run folder",
                        label.withoutTable() + ", " + parts[0],
                        "name the place in places.yaml");
            } else if (KNOWN.contains(parts[0])) {
                ours.put(parts[0], value);
            } else {
                throw problem(
                        "no such option of an address: " + parts[0],
                        label.withoutTable().toString(),
                        Nearest.question(parts[0], KNOWN)
                                + (Nearest.question(parts[0], KNOWN).isEmpty() ? "" : "; ")
                                + "a setting of the driver is written " + DRIVER + parts[0]);
            }
        }
        return ours;
    }

    private static void checkDriver(String engine, String name, Address label) {
        if (Address.SECRET_NAME.matcher(name).matches()) {
            return; // Refused by itself, with what to do instead.
        }
        DriverSettings.refusal(engine, name).ifPresent(why -> {
            String nearest = Nearest.question(name, DriverSettings.known(engine));
            throw problem(
                    why,
                    label.withoutTable() + ", " + name,
                    why.contains("schema")
                            ? "choose a schema with ?schema=NAME"
                            : nearest.isEmpty() ? "leave it out; those that are stand in docs/places.md" : nearest);
        });
    }

    /**
     * @param entry what is said of the place beside its address
     */
    private PlaceAccess complete(Address label, Address address, Entry entry, Origin origin) {
        Optional<PasswordSource> source = entry.password();
        Map<String, String> all = new HashMap<>(entry.properties().orElse(Map.of()));
        all.keySet().stream()
                .filter(key -> Address.SECRET_NAME.matcher(key).matches())
                .findFirst()
                .ifPresent(key -> {
                    throw problem(
                            "a password must not stand in a places file",
                            label + ", property " + key,
                            "use 'password: {env: NAME}'");
                });
        Map<String, String> ours;
        Address bare = address;
        int question = address.engine().equals("jdbc") ? -1 : address.location().indexOf('?');
        if (question >= 0) {
            bare = new Address(address.engine(), address.location().substring(0, question), address.table());
            ours = options(address.engine(), address.location().substring(question + 1), label, origin, all);
        } else {
            ours = Map.of();
        }
        Optional<String> env =
                Optional.ofNullable(ours.get("password-env")).or(() -> source.flatMap(PasswordSource::env));
        Optional<String> passwordFile =
                Optional.ofNullable(ours.get("password-file")).or(() -> source.flatMap(PasswordSource::file));
        Optional<String> longest =
                Optional.ofNullable(ours.get("statement-timeout")).or(entry::statementTimeout);
        boolean shared = "true".equals(ours.get("password-shared"))
                || source.flatMap(PasswordSource::shared).orElse(false);
        Optional<Secret> password = env.map(name -> fromEnvironment(name, label))
                .or(() -> passwordFile.map(path -> fromFile(Path.of(path), label, shared)))
                .or(() -> source.flatMap(PasswordSource::prompt).filter(p -> p).map(p -> asked(label)));
        return new PlaceAccess(
                label,
                bare,
                entry.user(),
                password,
                all,
                tls(entry.tlsOptions(), ours, label),
                Optional.ofNullable(ours.get("schema")),
                new SessionSettings(
                        longest.map(text -> duration(text, label)),
                        entry.allowCode().orElse(false) || "true".equals(ours.get("allow-code")),
                        true,
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
                Optional.ofNullable(said.get("tls-password-env")).map(name -> fromEnvironment(name, label)));
    }

    private Secret fromEnvironment(String name, Address label) {
        return Optional.ofNullable(environment.get(name))
                .map(Secret::new)
                .orElseThrow(() -> problem(
                        "the password's environment variable is not set", label + ", variable " + name, "set it"));
    }

    private static Secret fromFile(Path path, Address label, boolean shared) {
        try {
            String text = InputFile.text(path);
            if (!shared && InputFile.othersCanRead(path)) {
                throw problem(
                        "others can read the password's file",
                        label.withoutTable() + ", " + path,
                        "chmod 600 " + path
                                + ", or say that this is meant: password-shared=true, or shared: true in places.yaml");
            }
            return new Secret(text.replaceAll("\\R\\z", ""));
        } catch (IOException e) {
            throw problem("can't read the password's file", label + ", " + path, "check the path and its rights");
        }
    }

    private Secret asked(Address label) {
        return prompt.apply(label.withoutTable().toString())
                .orElseThrow(() -> problem(
                        "there is no terminal to ask for the password on",
                        label.toString(),
                        "use env or file instead"));
    }

    private static Duration duration(String text, Address label) {
        Matcher matcher = DURATION.matcher(text);
        if (!matcher.matches()) {
            throw problem(
                    "not a length of time: " + text, label + ", statement-timeout", "write it like 30s, 5m or 2h");
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
