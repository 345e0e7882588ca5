package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.Key;
import java.security.KeyStore;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.Base64;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Servers with and without TLS, and with certificates that nobody, somebody else or the right one vouches for. */
class TlsTest {
    private static final String PASSWORD = "changeit";

    @TempDir
    Path folder;

    private Tool tool;

    /** A key and its certificate, signed by itself, in PEM. */
    private Path certificate(String name, String names) throws Exception {
        Path store = folder.resolve(name + ".p12");
        String keytool =
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString();
        Tool.Result made = Tool.process(
                folder,
                "",
                List.of(
                        keytool,
                        "-genkeypair",
                        "-keyalg",
                        "RSA",
                        "-alias",
                        name,
                        "-dname",
                        "CN=" + name,
                        "-ext",
                        "san=" + names,
                        "-keystore",
                        store.toString(),
                        "-storetype",
                        "PKCS12",
                        "-storepass",
                        PASSWORD));
        assertThat(made.code()).as(made.all()).isZero();
        KeyStore keys = KeyStore.getInstance("PKCS12");
        try (InputStream in = Files.newInputStream(store)) {
            keys.load(in, PASSWORD.toCharArray());
        }
        Key key = keys.getKey(name, PASSWORD.toCharArray());
        pem(name + ".key", "PRIVATE KEY", key.getEncoded());
        return pem(name + ".pem", "CERTIFICATE", keys.getCertificate(name).getEncoded());
    }

    private Path pem(String file, String what, byte[] bytes) throws IOException {
        String text = Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes);
        Path path = Files.writeString(
                folder.resolve(file), "-----BEGIN " + what + "-----\n" + text + "\n-----END " + what + "-----\n");
        Files.setPosixFilePermissions(path, PosixFilePermissions.fromString("rw-------"));
        return path;
    }

    private void isReached(String address, String tls) {
        Tool.Result survey = tool.run("survey", address);
        assertThat(survey.code()).as(survey.all()).isZero();
        assertThat(survey.out()).as(survey.all()).containsPattern("TLS +" + tls);
    }

    private void isRefused(String address, int code, String... words) {
        Tool.Result survey = tool.run("survey", address);
        assertThat(survey.code()).as(survey.all()).isEqualTo(code);
        assertThat(survey.err()).contains(words);
        assertThat(survey.err().lines()).as(survey.all()).hasSize(1);
    }

    @Test
    void aServerIsProvedOrNotAsAskedFor() throws Exception {
        tool = new Tool(folder);
        Path right = certificate("right", "dns:localhost");
        Path other = certificate("other", "dns:localhost");
        try (EmbeddedPostgres server =
                EmbeddedPostgres.builder().setServerConfig("fsync", "off").start()) {
            String url = "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/postgres?user=postgres";
            try (Connection connection = DriverManager.getConnection(url)) {
                String data;
                try (var answer = connection.createStatement().executeQuery("SHOW data_directory")) {
                    answer.next();
                    data = answer.getString(1);
                }
                var owner = Files.getOwner(Path.of(data, "PG_VERSION"));
                for (String name : List.of("right.pem", "right.key")) {
                    Path copy = Path.of(data, name);
                    Files.copy(folder.resolve(name), copy);
                    Files.setPosixFilePermissions(copy, PosixFilePermissions.fromString("rw-------"));
                    Files.setOwner(copy, owner);
                }
                for (String setting :
                        List.of("ssl_cert_file = 'right.pem'", "ssl_key_file = 'right.key'", "ssl = on")) {
                    connection.createStatement().execute("ALTER SYSTEM SET " + setting);
                }
                connection.createStatement().execute("SELECT pg_reload_conf()");
            }
            String byName = "postgresql://postgres@localhost:" + server.getPort() + "/postgres";
            String byNumber = "postgresql://postgres@127.0.0.1:" + server.getPort() + "/postgres";
            isReached(byName + "?tls=verify&tls-authority=" + right, "TLSv1");
            isReached(byName + "?tls=require", "TLSv1");
            isReached(byName + "?tls=off", "no");
            String[] three = {"tls=verify", "tls-authority", "tls=require", "tls=off"};
            isRefused(byName + "?tls=verify", 3, three);
            isRefused(byName + "?tls=verify&tls-authority=" + other, 3, three);
            isRefused(byNumber + "?tls=verify&tls-authority=" + right, 3, three);
            isRefused(byName + "?tls=maybe", 2, "maybe", "verify, require or off");
            isRefused(byName + "?tls=verify&tls-authority=nowhere.pem", 2, "nowhere.pem");
            isRefused(byName + "?tls=off&tls-authority=" + right, 2, "no effect");
            Files.writeString(
                    folder.resolve("connections.yaml"),
                    "connections:\n  archive:\n    address: \"" + byName + "\"\n    tls: verify\n    tls-authority: "
                            + right + "\n");
            isReached("@archive", "TLSv1");
            isReached("@archive?tls=off", "no");
        }
        isRefused("postgresql://" + Servers.postgres() + "/postgres?tls=require", 3, "tls=off");
        String maria = "mariadb://" + Servers.maria() + "/mysql";
        isReached(maria + "?tls=require", "TLSv1");
        isReached(maria + "?tls=off", "no");
        isRefused(maria + "?tls=verify&tls-authority=" + other, 3, "tls=require", "tls=off");
    }
}
