package sharptally.engines.files.dump;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import sharptally.core.fault.ToolException;
import sharptally.engines.files.text.FileProblem;

/** What {@code pg_restore} writes of an archive of {@code pg_dump}: as text, which no server sees. */
final class Restored extends InputStream {
    private static final String PROGRAM = "pg_restore";
    private static final int SAID_BYTES = 2_000;
    private static final long SECONDS_TO_END = 10;

    private final Path archive;
    private final Process process;
    private final InputStream text;
    private final CompletableFuture<String> said;
    /** With this program, that one ends too. */
    private final Thread ending = new Thread(this::stop);

    private boolean ended;

    /**
     * @throws ToolException when the program is not on this machine
     */
    Restored(Path archive) {
        this.archive = archive;
        ProcessBuilder builder =
                new ProcessBuilder(PROGRAM, "-f", "-", archive.toAbsolutePath().toString());
        builder.environment().put("LC_ALL", "C");
        try {
            this.process = builder.start();
            process.getOutputStream().close();
        } catch (IOException e) {
            throw new ToolException(
                    sharptally.core.fault.ErrorKind.READ,
                    "an archive of pg_dump, which only its companion " + PROGRAM
                            + " reads, and that is not on this machine",
                    archive.toString(),
                    "install PostgreSQL's client programs here, or write it out where they are: " + PROGRAM
                            + " -f backup.sql " + archive.getFileName(),
                    e);
        }
        Runtime.getRuntime().addShutdownHook(ending);
        this.text = process.getInputStream();
        InputStream errors = process.getErrorStream();
        this.said = CompletableFuture.supplyAsync(() -> {
            try (errors) {
                String first = new String(errors.readNBytes(SAID_BYTES), StandardCharsets.UTF_8);
                errors.transferTo(java.io.OutputStream.nullOutputStream());
                return first;
            } catch (IOException e) {
                return "";
            }
        });
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xFF;
    }

    @Override
    public int read(byte[] into, int from, int length) throws IOException {
        int read = ended ? -1 : text.read(into, from, length);
        if (read < 0 && !ended) {
            ended = true;
            check();
        }
        return read;
    }

    /** All of it came only if the program says so. */
    private void check() {
        try {
            if (!process.waitFor(SECONDS_TO_END, TimeUnit.SECONDS) || process.exitValue() != 0) {
                String words = said.join().strip().lines().findFirst().orElse("it says nothing");
                throw FileProblem.of(
                        archive,
                        PROGRAM + " can't read it: " + words.replaceFirst("^" + PROGRAM + ": (error: )?", ""),
                        "it was cut off, or " + PROGRAM + " is older than the pg_dump that wrote it");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw FileProblem.of(archive, "reading was interrupted", "compare again");
        }
    }

    @Override
    public void close() {
        ended = true;
        stop();
        try {
            Runtime.getRuntime().removeShutdownHook(ending);
        } catch (IllegalStateException e) {
            // this program is ending
        }
    }

    private void stop() {
        process.destroyForcibly();
    }
}
