package sharptally.cli;

import java.util.Optional;
import picocli.CommandLine.IVersionProvider;

/** The program's version, from the jar it runs from. */
public final class Version implements IVersionProvider {
    public static String current() {
        return Optional.ofNullable(Version.class.getPackage().getImplementationVersion())
                .orElse("unpacked");
    }

    @Override
    public String[] getVersion() {
        return new String[] {"sharp-tally " + current()};
    }
}
