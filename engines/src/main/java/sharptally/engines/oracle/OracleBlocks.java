package sharptally.engines.oracle;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Statements as the client takes them: lines that are not too long for it, and blocks, in which stands what is too long for a literal
 * of a statement.
 */
final class OracleBlocks {
    /** The client leaves out lines of more letters than 2,499. */
    private static final int LINE = 2_000;

    /** Digits in a literal of bytes that a statement takes, and that a piece of one has. */
    static final int DIGITS = 4_000;

    private static final int PIECE = 1_800;

    /** Bytes as they stand in a statement, in which quotes of texts are doubled. */
    private static final Pattern BYTES = Pattern.compile("HEXTORAW\\('([0-9a-f]*)'\\)");

    private OracleBlocks() {}

    /** What changes rows, and what must be so behind it. */
    static String counted(String statement, String unless, String message) {
        return block(
                statement, "IF NOT (" + unless + ") THEN RAISE_APPLICATION_ERROR(-20001, " + message + "); END IF;");
    }

    /** A statement with its end: by itself, or as a block where it holds what no literal does, or is one. */
    static String ended(String statement) {
        if (statement.startsWith("BEGIN")) {
            return wrapped(statement) + "\n/";
        }
        boolean large = BYTES.matcher(statement).results().anyMatch(bytes -> isLarge(bytes.group(1)));
        return large ? block(statement, "") : wrapped(shortened(statement)) + ";";
    }

    /** A block of one statement, which may be empty, and what comes behind. */
    static String block(String statement, String behind) {
        List<String> declared = new ArrayList<>();
        List<String> filled = new ArrayList<>();
        String rest = BYTES.matcher(statement).replaceAll(bytes -> {
            if (!isLarge(bytes.group(1))) {
                return Matcher.quoteReplacement(shortened(bytes.group()));
            }
            String name = "sharp_tally_" + declared.size();
            declared.add(name + " BLOB;\n");
            filled.add("DBMS_LOB.CREATETEMPORARY(" + name + ", TRUE);\n");
            for (String piece : pieces(bytes.group(1))) {
                filled.add(
                        "DBMS_LOB.WRITEAPPEND(" + name + ", " + piece.length() / 2 + ", HEXTORAW('" + piece + "'));\n");
            }
            return name;
        });
        return (declared.isEmpty() ? "" : "DECLARE\n" + String.join("", declared)) + "BEGIN\n"
                + String.join("", filled) + wrapped(rest) + (rest.isEmpty() ? "" : ";\n")
                + (behind.isEmpty() ? "" : behind + "\n") + "END;\n/";
    }

    private static boolean isLarge(String digits) {
        return digits.length() > DIGITS;
    }

    private static List<String> pieces(String digits) {
        List<String> pieces = new ArrayList<>();
        for (int from = 0; from < digits.length(); from += PIECE) {
            pieces.add(digits.substring(from, Math.min(digits.length(), from + PIECE)));
        }
        return pieces;
    }

    /** Bytes in pieces that may stand on lines of their own. */
    private static String shortened(String statement) {
        return BYTES.matcher(statement)
                .replaceAll(bytes -> bytes.group(1).length() <= PIECE
                        ? Matcher.quoteReplacement(bytes.group())
                        : Matcher.quoteReplacement(
                                bytes.group().replace(bytes.group(1), String.join("' || '", pieces(bytes.group(1))))));
    }

    /** On more lines where one is too long: broken at a blank that stands in no quotes. */
    static String wrapped(String statement) {
        StringBuilder out = new StringBuilder();
        int begun = 0;
        int blank = -1;
        char quote = 0;
        for (int i = 0; i < statement.length(); i++) {
            char c = statement.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '\n') {
                out.append(statement, begun, i + 1);
                begun = i + 1;
                blank = -1;
            } else if (c == ' ') {
                blank = i;
            }
            if (i - begun >= LINE && blank > begun) {
                out.append(statement, begun, blank).append('\n');
                begun = blank + 1;
                blank = -1;
                // What is behind the blank, where no quote is open, is looked at again.
                quote = 0;
                i = begun - 1;
            }
        }
        return out.append(statement, begun, statement.length()).toString();
    }
}
