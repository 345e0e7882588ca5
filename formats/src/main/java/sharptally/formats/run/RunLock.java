package sharptally.formats.run;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * Keeps others from writing into a run folder, for as long as it is open. Held by the operating system, so that nothing of
 * it is left when a process is killed; its file stays, since taking it away would let two processes lock two files of one
 * name.
 */
public final class RunLock implements AutoCloseable {
    private static final String NAME = "lock";

    private final FileChannel channel;

    private RunLock(FileChannel channel) {
        this.channel = channel;
    }

    /**
     * @throws ToolException as {@code REFUSED} when another process writes into the folder
     */
    public static RunLock of(Path folder) {
        Path file = folder.resolve(NAME);
        try {
            FileChannel channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            try {
                if (channel.tryLock() != null) {
                    return new RunLock(channel);
                }
            } catch (OverlappingFileLockException e) {
                // held by this very process
            }
            channel.close();
        } catch (IOException e) {
            throw RunWriter.cantWrite(file, e);
        }
        throw new ToolException(
                ErrorKind.REFUSED, "another process works on this run", folder.toString(), "wait for its end");
    }

    @Override
    public void close() {
        try {
            channel.close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
