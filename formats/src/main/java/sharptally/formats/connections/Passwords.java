package sharptally.formats.connections;

import com.fasterxml.jackson.annotation.JsonFormat;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Secret;
import sharptally.formats.InputFile;

/**
 * Where passwords come from.
 *
 * @param environment where variables are looked up
 * @param prompt asks the user for the password of a database; empty where nobody can be asked
 */
record Passwords(Map<String, String> environment, Function<String, Optional<Secret>> prompt) {
    /**
     * Where a password is: exactly one of the parts.
     *
     * @param command a program and its words, or all of them in one text; no shell reads them
     * @param shared whether others may be able to read its file
     */
    record Source(
            Optional<String> env,
            Optional<String> file,
            Optional<Boolean> prompt,

            @JsonFormat(with = JsonFormat.Feature.ACCEPT_SINGLE_VALUE_AS_ARRAY)
            Optional<List<String>> command,

            Optional<Boolean> shared) {}

    private static final Duration LONGEST = Duration.ofMinutes(2);
    private static final int MOST_BYTES = 1 << 16;

    Secret fromEnvironment(String name, Address label) {
        return Optional.ofNullable(environment.get(name))
                .map(Secret::new)
                .orElseThrow(() -> problem(
                        "the password's environment variable is not set", label + ", variable " + name, "set it"));
    }

    static Secret fromFile(Path path, Address label, boolean shared) {
        try {
            String text = InputFile.text(path);
            if (!shared && InputFile.othersCanRead(path)) {
                throw problem(
                        "others can read the password's file",
                        label.withoutTable() + ", " + path,
                        "chmod 600 " + path
                                + ", or say that this is meant: password-shared=true, or shared: true in connections.yaml");
            }
            return new Secret(text.replaceAll("\\R\\z", ""));
        } catch (IOException e) {
            throw problem("can't read the password's file", label + ", " + path, "check the path and its rights");
        }
    }

    /**
     * What a program of the user's prints: a key ring, a vault, a maker of tokens. It may ask its own questions on the terminal.
     *
     * @param said in this file, which nobody else may be able to write
     */
    static Secret fromCommand(List<String> words, Path said, Address label) {
        String where = label.withoutTable().toString();
        List<String> command = words.size() == 1 ? List.of(words.get(0).strip().split("\\s+")) : words;
        String name = command.isEmpty() ? "" : command.get(0);
        try {
            if (InputFile.othersCanWrite(said)) {
                throw problem(
                        "others can write the file that says which command tells the password",
                        where + ", " + said,
                        "chmod go-w " + said);
            }
            Process process = new ProcessBuilder(command)
                    .redirectInput(ProcessBuilder.Redirect.INHERIT)
                    .redirectError(ProcessBuilder.Redirect.INHERIT)
                    .start();
            CompletableFuture<byte[]> told = CompletableFuture.supplyAsync(() -> firstOf(process));
            if (!process.waitFor(LONGEST.toSeconds(), TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw problem("the password's command does not end", where + ", " + name, "run it by hand");
            }
            String text = new String(told.join(), StandardCharsets.UTF_8).replaceAll("\\R\\z", "");
            if (process.exitValue() != 0 || text.isEmpty()) {
                throw problem(
                        process.exitValue() == 0
                                ? "the password's command printed nothing"
                                : "the password's command failed with exit code " + process.exitValue(),
                        where + ", " + name,
                        "run it by hand");
            }
            return new Secret(text);
        } catch (IOException e) {
            throw problem("can't run the password's command", where + ", " + name, "check its path and its rights");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw problem("the password's command was interrupted", where + ", " + name, "run it again");
        }
    }

    private static byte[] firstOf(Process process) {
        try (InputStream out = process.getInputStream()) {
            return out.readNBytes(MOST_BYTES);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    Secret asked(Address label) {
        return prompt.apply(label.withoutTable().toString())
                .orElseThrow(() -> problem(
                        "there is no terminal to ask for the password on",
                        label.toString(),
                        "use env or file instead"));
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
