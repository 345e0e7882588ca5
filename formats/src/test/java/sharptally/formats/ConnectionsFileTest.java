package sharptally.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.Secret;
import sharptally.formats.connections.ConnectionsFile;

class ConnectionsFileTest {
    @TempDir
    Path folder;

    private ConnectionsFile places(String yaml) throws IOException {
        Files.writeString(folder.resolve("connections.yaml"), yaml);
        return ConnectionsFile.find(
                folder.resolve("connections.yaml"),
                folder.resolve("other.yaml"),
                Map.of("PW", "geheim"),
                place -> Optional.of(new Secret("typed for " + place)));
    }

    @Test
    void namedPlaceHasAllThatItsEntrySays() throws IOException {
        PlaceAccess access = places("""
                        connections:
                          archive:
                            address: "postgresql://db1:5433/archive"
                            user: tide
                            password: {env: PW}
                            properties: {sslmode: verify-full}
                            statement-timeout: 90s
                            max-connections: 2
                        """).resolve(Address.parse("@archive#station"));
        assertThat(access.label()).hasToString("@archive#station");
        assertThat(access.address()).hasToString("postgresql://db1:5433/archive");
        assertThat(access.user()).contains("tide");
        assertThat(access.password().map(Secret::reveal)).contains("geheim");
        assertThat(access.properties()).containsExactly(Map.entry("sslmode", "verify-full"));
        assertThat(access.session().limits().statement()).contains(Duration.ofSeconds(90));
        assertThat(access.session().maxConnections()).isEqualTo(2);
        assertThat(access.toString()).doesNotContain("geheim");
    }

    @Test
    void addressMayCarryItsOptionsAndNeverShowsASecret() throws IOException {
        Files.writeString(folder.resolve("pw"), "of file\n");
        Files.setPosixFilePermissions(folder.resolve("pw"), PosixFilePermissions.fromString("rw-------"));
        PlaceAccess access = places("connections: {}\n")
                .resolve(Address.parse("mariadb://u@h/db?password-file=" + folder.resolve("pw")
                        + "&driver.useCompression=true&statement-timeout=2m#t"));
        assertThat(access.address().location()).isEqualTo("//u@h/db");
        assertThat(access.label().table()).contains("t");
        assertThat(access.password().map(Secret::reveal)).contains("of file");
        assertThat(access.properties()).containsExactly(Map.entry("useCompression", "true"));
        assertThat(access.session().limits().statement()).contains(Duration.ofMinutes(2));
        PlaceAccess asked = places("connections:\n  p:\n    address: \"sqlite:a\"\n    password: {prompt: true}\n")
                .resolve(Address.parse("@p"));
        assertThat(asked.password().map(Secret::reveal)).contains("typed for @p");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "echo geheim                     | geheim",
                "[printf, 'two words\\n']         | two words",
                "[sh, -c, 'echo $((1 + 1))']     | 2",
                "sh -c exit                      | the password's command printed nothing: @p, sh",
                "[sh, -c, 'echo half; exit 3']   | the password's command failed with exit code 3: @p, sh",
                "/no/such/program geheim         | can't run the password's command: @p, /no/such/program",
            })
    void aCommandTellsThePassword(String command, String outcome) throws IOException {
        ConnectionsFile places =
                places("connections: {p: {address: 'sqlite:a', password: {command: " + command + "}}}");
        if (outcome.contains("command")) {
            assertThatThrownBy(() -> places.resolve(Address.parse("@p")))
                    .hasMessageContaining(outcome)
                    .hasMessageNotContaining("half")
                    .hasMessageNotContaining("geheim");
        } else {
            assertThat(places.resolve(Address.parse("@p")).password().map(Secret::reveal))
                    .contains(outcome);
        }
        Files.setPosixFilePermissions(folder.resolve("connections.yaml"), PosixFilePermissions.fromString("rw-rw----"));
        assertThatThrownBy(() -> places.resolve(Address.parse("@p"))).hasMessageContaining("others can write the file");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "connections: {p: {address: 'sqlite:a', pasword: {env: X}}} | no such key in a connections file: pasword",
                "connections: {p: {user: x}}                                | a connection needs an address",
                "connections: {p: {address: 'sqlite:a', password: {env: NONE}}} | environment variable is not set: @p, variable NONE",
                "connections: {p: {address: '@q'}}                          | can't be another one's name",
                "connections: {p: {address: 'sqlite:a', properties: {password: x}}} | must not stand in a connections file",
                "connections: {p: {address: 'sqlite:a', statement-timeout: soon}} | not a length of time: soon",
                "connections: {p: {address: 'sqlite:a', max-connections: 0}}    | not as it should be: max-connections",
                "connections: {q: {address: 'sqlite:a'}}                    | no connection of this name: @p",
                "conections: {}                                        | did you mean connections?",
                "connections: [                                             | not a connections file",
            })
    void whatIsWrongIsToldInOneLine(String yaml, String message) {
        assertThatThrownBy(() -> places(yaml).resolve(Address.parse("@p"))).hasMessageContaining(message);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "postgresql://u@h/db?passwrod-env=X   | no such option of an address: passwrod-env",
                "postgresql://u@h/db?currentSchema=x  | no such option of an address: currentSchema",
                "postgresql://u@h/db?driver.currentSchema=x | has no effect",
                "postgresql://u@h/db?sslmode=require  | driver.sslmode",
                "sqlite:a.db?mode=ro                  | no such option of an address: mode",
                "postgresql://u@h/db?driver.socketFactory=x | load code",
                "h2:a?driver.INIT=x                   | load code",
                "mariadb://u@h/db?driver.allowLocalInfile=true | load code",
                "mariadb://u@h/db?driver.sessionVariables=x    | none of the settings",
                "postgresql://u@h/db?driver.sslmod=require     | sslmode",
                "duckdb:a?driver.allow_unsigned=true           | none of the settings",
            })
    void optionThatIsNotKnownOrNotSafeIsRefused(String address, String message) {
        assertThatThrownBy(() -> places("connections: {}\n").resolve(Address.parse(address)))
                .hasMessageContaining(message);
    }

    @Test
    void schemaIsChosenInTheAddressAndDriversAreNotSetByFiles() throws IOException {
        ConnectionsFile places = places("connections: {a: {address: 'postgresql://h/db'}}\n");
        assertThat(places.resolve(Address.parse("@a?schema=tides#t")).schema()).contains("tides");
        assertThat(places.resolve(Address.parse("postgresql://h/db?schema=my%20own"))
                        .schema())
                .contains("my own");
        assertThatThrownBy(() ->
                        places.resolve(Address.parse("postgresql://h/db?driver.ssl=true"), ConnectionsFile.Origin.FILE))
                .hasMessageContaining("must not stand in a job file or run folder");
    }

    @ParameterizedTest
    @CsvSource({
        "postgresql://u:secret@h/db",
        "mariadb://:secret@h/db",
        "jdbc:x://h;password=secret",
        "mysql://u@h/db?PASSWORD=secret"
    })
    void passwordInAnAddressIsRefusedAndNotRepeated(String address) {
        assertThatThrownBy(() -> Address.parse(address))
                .hasMessageContaining("must not hold a password")
                .hasMessageNotContaining("secret");
    }
}
