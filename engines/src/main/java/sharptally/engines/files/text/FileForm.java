package sharptally.engines.files.text;

import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.UnsupportedCharsetException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * How files are written, as far as the user says it; the rest is found by looking.
 *
 * @param header whether the first record names the columns
 * @param names of the columns, in place of those that the file tells
 * @param nothing what stands for NULL where it is not quoted; empty for nothing at all between two delimiters
 * @param sheet of a workbook
 * @param brokenAllowed how many records may be passed over that have too many or too few fields
 */
public record FileForm(
        Optional<Charset> encoding,
        Optional<Character> delimiter,
        Optional<Character> quote,
        Optional<Boolean> header,
        List<String> names,
        Optional<String> nothing,
        Optional<String> sheet,
        long brokenAllowed) {
    /** What an address may say of its files. */
    public static final List<String> OPTIONS =
            List.of("allow-broken", "delimiter", "encoding", "header", "names", "null", "quote", "sheet");

    public FileForm {
        names = List.copyOf(names);
    }

    /**
     * @param said option to value
     * @param where the place is, for messages
     * @throws ToolException when an option can't have this value
     */
    public static FileForm of(Map<String, String> said, String where) {
        return new FileForm(
                Optional.ofNullable(said.get("encoding")).map(name -> charset(name, where)),
                Optional.ofNullable(said.get("delimiter")).map(text -> delimiter(text, where)),
                Optional.ofNullable(said.get("quote"))
                        .map(text -> text.equals("none")
                                ? Character.valueOf('\0')
                                : Character.valueOf(one(text, "quote", where))),
                Optional.ofNullable(said.get("header")).map(text -> yesOrNo(text, where)),
                Optional.ofNullable(said.get("names"))
                        .map(text -> List.of(text.split(",")))
                        .orElse(List.of()),
                Optional.ofNullable(said.get("null")),
                Optional.ofNullable(said.get("sheet")),
                Optional.ofNullable(said.get("allow-broken"))
                        .map(text -> count(text, where))
                        .orElse(0L));
    }

    /** The same, with this between the fields. */
    FileForm delimitedBy(char found) {
        return new FileForm(encoding, Optional.of(found), quote, header, names, nothing, sheet, brokenAllowed);
    }

    private static Charset charset(String name, String where) {
        try {
            return Charset.forName(name);
        } catch (IllegalCharsetNameException | UnsupportedCharsetException e) {
            throw problem("no such encoding: " + name, where, "such as utf-8, utf-16le, iso-8859-1 or windows-1252");
        }
    }

    private static char delimiter(String text, String where) {
        return switch (text) {
            case "tab", "\\t" -> '\t';
            case "comma" -> ',';
            case "semicolon" -> ';';
            case "pipe" -> '|';
            default -> one(text, "delimiter", where);
        };
    }

    private static char one(String text, String option, String where) {
        if (text.length() != 1) {
            throw problem(
                    "not one character: " + text,
                    where + ", " + option,
                    "write it as it is, or %XX; a delimiter may be tab, comma, semicolon or pipe");
        }
        return text.charAt(0);
    }

    private static long count(String text, String where) {
        if (!text.matches("\\d{1,9}")) {
            throw problem("no number: " + text, where + ", allow-broken", "such as allow-broken=10");
        }
        return Long.parseLong(text);
    }

    private static boolean yesOrNo(String text, String where) {
        if (!text.equals("yes") && !text.equals("no")) {
            throw problem("neither yes nor no: " + text, where + ", header", "say header=yes or header=no");
        }
        return text.equals("yes");
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
