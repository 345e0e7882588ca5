package sharptally.api.job.keep;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Random;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;

/**
 * Held while a job file is compared, so that two runs of it do not overlap. Ends with the process, however that ends.
 *
 * <p>The operating system holds it by a file that a process which has it never opens a second time: on POSIX systems,
 * closing any handle of a file drops all locks of the process on it. So whether the file is still the one that was locked is
 * told by its size alone, which each holder chooses at random.
 */
public final class JobLock implements AutoCloseable {
    private static final int ATTEMPTS = 5;
    private static final int MOST_BLANKS = 4_000;

    private final Path file;
    private final FileChannel channel;
    private final boolean madeFolder;

    private JobLock(Path file, FileChannel channel, boolean madeFolder) {
        this.madeFolder = madeFolder;
        this.file = file;
        this.channel = channel;
    }

    /**
     * @param runs the folder of its runs
     * @throws ToolException as {@code REFUSED} when another process holds it
     */
    public static JobLock of(Path runs, String jobFile) {
        Path file = runs.resolve(".lock-" + Integer.toHexString(jobFile.hashCode()));
        String who = "process " + ProcessHandle.current().pid() + " since "
                + Instant.now().truncatedTo(ChronoUnit.SECONDS);
        boolean madeFolder = Files.notExists(runs);
        try {
            for (int attempt = 1; attempt <= ATTEMPTS; attempt++) {
                Files.createDirectories(runs);
                FileChannel channel = FileChannel.open(
                        file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE);
                if (!isFree(channel)) {
                    throw taken(file, jobFile, channel);
                }
                String padded = who + " ".repeat(new Random().nextInt(MOST_BLANKS));
                channel.truncate(0);
                channel.write(ByteBuffer.wrap(padded.getBytes(StandardCharsets.UTF_8)));
                // Whoever held it may have removed the file between our opening and locking it, and somebody else made
                // it anew.
                if (Files.exists(file) && Files.size(file) == padded.length()) {
                    return new JobLock(file, channel, madeFolder);
                }
                channel.close();
            }
            throw new IOException("it is removed again and again");
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't keep other runs of the job file off",
                    file + " (" + e.getMessage() + ")",
                    Hint.OTHER_RUNS,
                    e);
        }
    }

    private static boolean isFree(FileChannel channel) throws IOException {
        try {
            return channel.tryLock() != null;
        } catch (OverlappingFileLockException e) {
            return false;
        }
    }

    private static ToolException taken(Path file, String jobFile, FileChannel channel) {
        String who = "";
        try (channel) {
            who = Files.readString(file).strip();
        } catch (IOException e) {
            // who it is is not needed to say that there is somebody
        }
        return new ToolException(
                ErrorKind.REFUSED,
                "another run of this job file is under way" + (who.isEmpty() ? "" : " (" + who + ")"),
                jobFile,
                "wait for its end");
    }

    /** Leaves nothing behind: neither the file, nor the folder that was made for it, where no run came of it. */
    @Override
    public void close() {
        try (channel) {
            Files.deleteIfExists(file);
            if (madeFolder) {
                Files.deleteIfExists(file.toAbsolutePath().getParent());
            }
        } catch (DirectoryNotEmptyException e) {
            // there are runs in it
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
