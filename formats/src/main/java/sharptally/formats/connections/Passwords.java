package sharptally.formats.connections;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
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
     * @param shared whether others may be able to read its file
     */
    record Source(Optional<String> env, Optional<String> file, Optional<Boolean> prompt, Optional<Boolean> shared) {}

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
                                + ", or say that this is meant: password-shared=true, or shared: true in places.yaml");
            }
            return new Secret(text.replaceAll("\\R\\z", ""));
        } catch (IOException e) {
            throw problem("can't read the password's file", label + ", " + path, "check the path and its rights");
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
