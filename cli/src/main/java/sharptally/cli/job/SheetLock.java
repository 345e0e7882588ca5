package sharptally.cli.job;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Held while a sheet is compared, so that two runs of it do not overlap. Ends with the process, however that ends. */
public final class SheetLock implements AutoCloseable {
    private final FileChannel channel;

    private SheetLock(FileChannel channel) {
        this.channel = channel;
    }

    /**
     * @param runs the folder of its runs
     * @throws ToolException as {@code REFUSED} when another process holds it
     */
    public static SheetLock of(Path runs, String sheet) {
        Path file = runs.resolve(".lock-" + Integer.toHexString(sheet.hashCode()));
        FileChannel channel = null;
        try {
            Files.createDirectories(runs);
            channel = FileChannel.open(
                    file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE);
            FileLock lock = channel.tryLock();
            if (lock == null) {
                throw taken(file, sheet, channel);
            }
            String who = "process " + ProcessHandle.current().pid() + " since "
                    + Instant.now().truncatedTo(ChronoUnit.SECONDS);
            channel.truncate(0);
            channel.write(ByteBuffer.wrap(who.getBytes(StandardCharsets.UTF_8)));
            return new SheetLock(channel);
        } catch (OverlappingFileLockException e) {
            throw taken(file, sheet, channel);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't keep other runs of the sheet off",
                    file + " (" + e.getMessage() + ")",
                    "choose another folder with --runs",
                    e);
        }
    }

    private static ToolException taken(Path file, String sheet, FileChannel channel) {
        String who = "";
        try (channel) {
            who = Files.readString(file);
        } catch (IOException e) {
            // who it is is not needed to say that there is somebody
        }
        return new ToolException(
                ErrorKind.REFUSED,
                "another run of this sheet is under way" + (who.isEmpty() ? "" : " (" + who + ")"),
                sheet,
                "wait for its end");
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
