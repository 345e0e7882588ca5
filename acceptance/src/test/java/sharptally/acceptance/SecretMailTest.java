package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.subethamail.smtp.auth.EasyAuthenticationHandlerFactory;
import org.subethamail.smtp.auth.LoginFailedException;
import org.subethamail.smtp.server.SMTPServer;
import sharptally.acceptance.Database.Kind;

/** Mail over encrypted connections with a login, against real servers whose certificates are made for the test. */
class SecretMailTest {
    private static final String PASSWORD = "tide-and-time";
    private static final String STORE_PASSWORD = "changeit";

    @TempDir
    Path folder;

    private final List<String> received = new CopyOnWriteArrayList<>();
    private final List<String> logins = new CopyOnWriteArrayList<>();

    @BeforeEach
    void fill() throws Exception {
        for (String name : List.of("src", "tgt")) {
            new Database(Kind.SQLITE, folder, name).execute("CREATE TABLE t (id INTEGER PRIMARY KEY)");
        }
    }

    /** A server's key and a certificate that is for these names. */
    private SSLContext certified(String store, String names) throws Exception {
        Path file = folder.resolve(store);
        Tool.Result made = Tool.process(
                folder,
                "",
                List.of(
                        Path.of(System.getProperty("java.home"), "bin", "keytool")
                                .toString(),
                        "-genkeypair",
                        "-alias",
                        "mail",
                        "-keyalg",
                        "RSA",
                        "-dname",
                        "CN=mail.example.org",
                        "-ext",
                        "san=" + names,
                        "-storetype",
                        "PKCS12",
                        "-keystore",
                        file.toString(),
                        "-storepass",
                        STORE_PASSWORD));
        assertThat(made.code()).as(made.all()).isZero();
        KeyStore keys = KeyStore.getInstance("PKCS12");
        try (InputStream in = Files.newInputStream(file)) {
            keys.load(in, STORE_PASSWORD.toCharArray());
        }
        KeyManagerFactory managers = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        managers.init(keys, STORE_PASSWORD.toCharArray());
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(managers.getKeyManagers(), null, null);
        return context;
    }

    private SMTPServer.Builder server() {
        return SMTPServer.port(0)
                .bindAddress(InetAddress.getLoopbackAddress())
                .requireAuth()
                .authenticationHandlerFactory(new EasyAuthenticationHandlerFactory((user, password, context) -> {
                    logins.add(user);
                    if (!password.equals(PASSWORD)) {
                        throw new LoginFailedException();
                    }
                }))
                .messageHandler((context, from, to, data) -> received.add(new String(data, StandardCharsets.UTF_8)));
    }

    /** What is told when a run mails to this server. */
    private String run(SMTPServer server, String tls, String password, String store) throws Exception {
        server.start();
        try {
            Files.writeString(
                    folder.resolve("night.yaml"),
                    "job: 1\nsource: sqlite:src.db\ntarget: sqlite:tgt.db\nnotify:\n"
                            + "  - mail: {server: \"127.0.0.1:" + server.getPortAllocated() + "\", tls: " + tls
                            + ", from: tally@example.org, to: dba@example.org, user: tally, password-variable: MAIL_WORD}\n");
            Map<String, String> environment = Map.of(
                    "MAIL_WORD",
                    password,
                    "JAVA_OPTS",
                    "-Djavax.net.ssl.trustStore=" + folder.resolve(store) + " -Djavax.net.ssl.trustStorePassword="
                            + STORE_PASSWORD);
            Tool.Result result = new Tool(folder).with(environment, "compare", "--job", "night.yaml", "--quiet");
            assertThat(result.code()).as(result.all()).isZero();
            assertThat(result.all()).doesNotContain(password);
            return result.err();
        } finally {
            server.stop();
        }
    }

    @Test
    void mailGoesOutByBothKindsOfEncryption() throws Exception {
        SSLContext ours = certified("ours.p12", "ip:127.0.0.1");
        assertThat(run(server().requireTLS().startTlsSocketFactory(ours).build(), "starttls", PASSWORD, "ours.p12"))
                .isEmpty();
        assertThat(run(server().serverSocketFactory(ours).build(), "implicit", PASSWORD, "ours.p12"))
                .isEmpty();
        assertThat(received).hasSize(2).allMatch(mail -> mail.contains("same: every row of 1 table was compared"));
    }

    @Test
    void whatIsNotSafeIsNotSent() throws Exception {
        SSLContext ours = certified("ours.p12", "ip:127.0.0.1");
        assertThat(run(server().build(), "starttls", PASSWORD, "ours.p12"))
                .as("a server without encryption")
                .contains("mail to dba@example.org was not sent: STARTTLS is required");
        certified("strange.p12", "ip:127.0.0.1");
        assertThat(run(server().requireTLS().startTlsSocketFactory(ours).build(), "starttls", PASSWORD, "strange.p12"))
                .as("a certificate that is not trusted")
                .contains("was not sent");
        SSLContext other = certified("other.p12", "dns:elsewhere.example.org");
        assertThat(run(server().serverSocketFactory(other).build(), "implicit", PASSWORD, "other.p12"))
                .as("a certificate for another name")
                .contains("was not sent");
        assertThat(logins).as("no password goes over such connections").isEmpty();
        assertThat(run(server().serverSocketFactory(ours).build(), "implicit", "ebb-and-flow", "ours.p12"))
                .as("a wrong password")
                .contains("was not sent: 535");
        assertThat(received).isEmpty();
    }
}
