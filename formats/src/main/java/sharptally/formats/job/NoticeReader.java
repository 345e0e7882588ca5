package sharptally.formats.job;

import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.yaml.snakeyaml.nodes.Node;
import sharptally.formats.job.Notice.Mail;
import sharptally.formats.job.Notice.Tls;
import sharptally.formats.job.Notice.When;

/** Reads the entries of {@code notify}. */
final class NoticeReader {
    private static final Set<String> KEYS = new LinkedHashSet<>(List.of("when", "mail", "post", "redact"));

    private NoticeReader() {}

    /** Empty where something is wrong, which is noted. */
    static Optional<Notice> read(YamlMap.Context context, Node node) {
        YamlMap map = YamlMap.of(context, node, KEYS);
        When when = map.read("when", text -> named(When.values(), text), "change, failure or always")
                .orElse(When.ALWAYS);
        Optional<String> post = map.read(
                "post",
                text -> text.matches("https?://\\S+") ? Optional.of(text) : Optional.empty(),
                "a URL that begins with http:// or https://");
        if (map.has("mail") == map.has("post")) {
            map.problem("an entry of notify has either mail or post");
        }
        return Optional.of(new Notice(
                when,
                map.map("mail", "server", "tls", "from", "to", "user", "password-variable", "attach")
                        .map(NoticeReader::mail),
                post,
                is(map, "redact", false),
                Set.of()));
    }

    private static Mail mail(YamlMap map) {
        Optional<String> server = map.has("server")
                ? map.read(
                        "server",
                        text -> text.matches("[^\\s:]+:\\d{1,5}") ? Optional.of(text) : Optional.empty(),
                        "a host and a port, such as mail.example.org:587")
                : map.requiredText("server");
        List<String> to = map.texts("to");
        if (to.isEmpty()) {
            map.problem("a mail needs somebody in to");
        }
        if (map.has("user") != map.has("password-variable")) {
            map.problem("user and password-variable belong together");
        }
        Tls tls = map.read("tls", text -> named(Tls.values(), text), "none, starttls or implicit")
                .orElse(Tls.NONE);
        if (map.has("user") && tls == Tls.NONE) {
            map.problem("a password goes over an encrypted connection only: write tls: starttls or tls: implicit");
        }
        return new Mail(
                server.orElse(""),
                tls,
                map.requiredText("from").orElse(""),
                to,
                map.text("user").filter(u -> map.has("user")),
                map.text("password-variable").filter(p -> map.has("password-variable")),
                is(map, "attach", true));
    }

    private static <E extends Enum<E>> Optional<E> named(E[] all, String text) {
        return Arrays.stream(all).filter(e -> e.toString().equals(text)).findFirst();
    }

    private static boolean is(YamlMap map, String key, boolean otherwise) {
        return map.read(
                        key,
                        text -> text.equals("true") || text.equals("false")
                                ? Optional.of(Boolean.valueOf(text))
                                : Optional.empty(),
                        "true or false")
                .orElse(otherwise);
    }
}
