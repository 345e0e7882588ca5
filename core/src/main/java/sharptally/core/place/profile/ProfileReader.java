package sharptally.core.place.profile;

import java.nio.file.Path;

/** Reads profiles; found as a service, since engines know no form of files. */
public interface ProfileReader {
    /**
     * @param where the file's name, for what is wrong with it
     * @throws sharptally.core.fault.ToolException when the text is not a profile
     */
    Profile read(String text, String where);

    /**
     * One of the user's own, whose SQL is run on their behalf.
     *
     * @throws sharptally.core.fault.ToolException when it can't be read, is not a profile, or somebody else may write it
     */
    Profile read(Path file);
}
