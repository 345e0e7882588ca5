package sharptally.cli.option;

import picocli.CommandLine.Option;

/** In which form a command prints its result. */
public final class FormatChoice {
    /** The forms of a result. */
    public enum Form {
        TEXT,
        JSON;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    @Option(
            names = "--format",
            paramLabel = "FORM",
            defaultValue = "text",
            description = {
                "text, json. Default: text.",
                "json: one object with the verdict, the exit code and the result, on standard output."
            })
    Form form = Form.TEXT;

    public boolean isJson() {
        return form == Form.JSON;
    }
}
