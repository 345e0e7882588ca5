package sharptally.cli.screen;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.SerializationFeature;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.Json;

/**
 * The result of a command as one JSON object: {@code format}, {@code command}, {@code verdict}, {@code exit-code} and
 * {@code result}, or in its place {@code failure}; described in {@code docs/json.md}.
 */
public final class JsonResult {
    /** The form's version. */
    public static final int FORMAT = 1;

    private JsonResult() {}

    /** What an exit code says, in a word; {@code done} where nothing was compared. */
    static String verdict(int exitCode, boolean compares) {
        return switch (exitCode) {
            case 0 -> compares ? "same" : "done";
            case 1 -> "different";
            case 4 -> "refused";
            case 5 -> "incomplete";
            default -> "failed";
        };
    }

    /** Prints the result of a command that compares all that it was asked for, and so may say that it is the same. */
    public static int compared(Screen screen, String command, int exitCode, Object result) {
        return print(screen, command, verdict(exitCode, true), exitCode, result);
    }

    /** The same of a comparison that ends with 0 though rows differ: all are accepted, or no more than allowed. */
    public static int accepted(Screen screen, String command, Object result) {
        return print(screen, command, "accepted", 0, result);
    }

    /** Prints the result of any other command. */
    public static int done(Screen screen, String command, int exitCode, Object result) {
        return print(screen, command, verdict(exitCode, false), exitCode, result);
    }

    private static int print(Screen screen, String command, String verdict, int exitCode, Object result) {
        write(screen, command, verdict, exitCode, out -> {
            try {
                out.writeFieldName("result");
                out.writePOJO(result);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        return exitCode;
    }

    /** Prints that a command failed. */
    public static void failed(Screen screen, String command, ToolException failure) {
        int code = failure.kind().exitCode();
        write(screen, command, verdict(code, false), code, out -> {
            try {
                out.writeObjectFieldStart("failure");
                out.writeStringField("message", HintText.line(failure));
                out.writeStringField("where", failure.where());
                out.writeEndObject();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }

    /** Prints that a command was not understood. */
    public static void failed(Screen screen, String command, ErrorKind kind, String message) {
        failed(screen, command, new ToolException(kind, message, command, ""));
    }

    /** Prints one JSON object a line. */
    public static void lines(Screen screen, List<?> results) {
        try {
            for (Object result : results) {
                screen.out()
                        .println(Json.MAPPER
                                .writer()
                                .without(SerializationFeature.INDENT_OUTPUT)
                                .writeValueAsString(result));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void write(
            Screen screen, String command, String verdict, int exitCode, Consumer<JsonGenerator> content) {
        try (JsonGenerator out =
                Json.MAPPER.writerWithDefaultPrettyPrinter().createGenerator(new NonClosing(screen.out()))) {
            out.writeStartObject();
            head(out, command, verdict, exitCode);
            content.accept(out);
            out.writeEndObject();
            out.flush();
            screen.out().println();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void head(JsonGenerator out, String command, String verdict, int exitCode) throws IOException {
        out.writeNumberField("format", FORMAT);
        out.writeStringField("command", command);
        out.writeStringField("verdict", verdict);
        out.writeNumberField("exit-code", exitCode);
    }

    /**
     * Prints a result that is too long to be held: a list whose elements are written one a line.
     *
     * @param name of the list in the result
     * @param lines writes the elements, each with a line end
     */
    public static void list(Screen screen, String command, int exitCode, String name, Consumer<OutputStream> lines) {
        screen.out()
                .print("{\n  \"format\" : " + FORMAT + ",\n  \"command\" : \"" + command + "\",\n  \"verdict\" : \""
                        + verdict(exitCode, false) + "\",\n  \"exit-code\" : " + exitCode
                        + ",\n  \"result\" : {\n    \""
                        + name + "\" : [");
        lines.accept(new Elements(screen.out()));
        screen.out().print("\n    ]\n  }\n}\n");
        screen.out().flush();
    }

    /** Puts a comma between lines. */
    private static final class Elements extends FilterOutputStream {
        private boolean any;
        private boolean begun;

        Elements(OutputStream out) {
            super(out);
        }

        @Override
        public void write(int b) throws IOException {
            if (b == '\n') {
                begun = false;
                return;
            }
            if (!begun) {
                out.write((any ? ",\n      " : "\n      ").getBytes(java.nio.charset.StandardCharsets.UTF_8));
                any = true;
                begun = true;
            }
            out.write(b);
        }

        @Override
        public void write(byte[] bytes, int from, int length) throws IOException {
            int end = from + length;
            int at = from;
            while (at < end) {
                int line = at;
                while (line < end && bytes[line] != '\n') {
                    line++;
                }
                if (line > at) {
                    write(bytes[at]);
                    out.write(bytes, at + 1, line - at - 1);
                }
                if (line < end) {
                    write('\n');
                }
                at = line + 1;
            }
        }

        @Override
        public void close() throws IOException {
            flush();
        }
    }
}
