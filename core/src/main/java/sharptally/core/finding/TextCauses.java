package sharptally.core.finding;

import static sharptally.core.finding.LikelyCause.fact;
import static sharptally.core.finding.LikelyCause.guess;

import java.math.BigDecimal;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.text.Normalizer;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** What may have made two texts differ. */
final class TextCauses {
    private static final Charset WESTERN = Charset.forName("windows-1252");
    private static final Pattern NUMBER = Pattern.compile("[-+]?\\d{1,40}(\\.\\d{1,40})?([eE][-+]?\\d{1,3})?");
    private static final Pattern DECIMAL_COMMA = Pattern.compile("[-+]?\\d{1,40},\\d{1,40}");
    private static final int MAX_BYTES_OF_LETTER = 4;

    private TextCauses() {}

    static void add(List<LikelyCause> found, String source, String target) {
        Optional<String> fact = same(source, target);
        if (fact.isPresent()) {
            found.add(fact(fact.get(), 0));
            return;
        }
        if (target.isEmpty()) {
            found.add(fact("a value to empty", 1));
            return;
        }
        if (source.startsWith(target)) {
            cut(found, source, target);
        }
    }

    /** In which way the two are the same in spite of all. */
    private static Optional<String> same(String source, String target) {
        if (source.stripTrailing().equals(target.stripTrailing())) {
            return Optional.of("trailing spaces");
        }
        if (source.strip().equals(target.strip())) {
            return Optional.of("spaces around");
        }
        if (lines(source).equals(lines(target))) {
            return Optional.of("line ends");
        }
        if (squeezed(source).equals(squeezed(target))) {
            return Optional.of("spaces within");
        }
        if (source.equalsIgnoreCase(target)) {
            return Optional.of("letter case");
        }
        if (Normalizer.normalize(source, Normalizer.Form.NFC)
                .equals(Normalizer.normalize(target, Normalizer.Form.NFC))) {
            return Optional.of("form of accents");
        }
        if (Normalizer.normalize(source, Normalizer.Form.NFD)
                .replaceAll("\\p{M}", "")
                .equals(target)) {
            return Optional.of("accents lost");
        }
        return encoding(source, target).or(() -> written(source, target));
    }

    private static Optional<String> encoding(String source, String target) {
        if (isMisread(source, target)) {
            return Optional.of("UTF-8 read as Latin-1");
        }
        if (isMisread(target, source)) {
            return Optional.of("UTF-8 read as Latin-1, repaired");
        }
        for (Charset read : List.of(WESTERN, StandardCharsets.ISO_8859_1)) {
            if (isMisread(misread(source, read), target)) {
                return Optional.of("UTF-8 encoded twice over");
            }
        }
        if (isDamaged(source, target)) {
            return Optional.of("letters lost in encoding");
        }
        return Optional.empty();
    }

    /** The same number, written in another way. */
    private static Optional<String> written(String source, String target) {
        if (DECIMAL_COMMA.matcher(source).matches() && source.replace(',', '.').equals(target)
                || DECIMAL_COMMA.matcher(target).matches()
                        && target.replace(',', '.').equals(source)) {
            return Optional.of("decimal comma");
        }
        if (!NUMBER.matcher(source).matches() || !NUMBER.matcher(target).matches()) {
            return Optional.empty();
        }
        if (new BigDecimal(source).compareTo(new BigDecimal(target)) != 0) {
            return Optional.empty();
        }
        if (source.replaceFirst("^0+(?=\\d)", "").equals(target)) {
            return Optional.of("leading zeros lost");
        }
        return Optional.of("the same number, written otherwise");
    }

    /**
     * At how many characters, or bytes of UTF-8, the source can have been cut: a letter of several bytes that does not fit
     * goes whole, or leaves what is not a letter behind; so of bytes there are several. Which it was, all rows together
     * tell.
     */
    private static void cut(List<LikelyCause> found, String source, String target) {
        found.add(guess("cut at " + target.codePointCount(0, target.length()) + " characters", 10));
        int bytes = target.getBytes(StandardCharsets.UTF_8).length;
        String next = Character.toString(source.codePointAt(target.length()));
        int letter = Math.min(MAX_BYTES_OF_LETTER, next.getBytes(StandardCharsets.UTF_8).length);
        for (int at = bytes; at < bytes + letter; at++) {
            found.add(guess("cut at " + at + " bytes", 20));
        }
    }

    private static String lines(String text) {
        return text.replace("\r\n", "\n").replace('\r', '\n');
    }

    private static String squeezed(String text) {
        return text.strip().replaceAll("\\s+", " ");
    }

    private static String misread(String text, Charset as) {
        return new String(text.getBytes(StandardCharsets.UTF_8), as);
    }

    /** Whether one is the other's UTF-8 read as a western one-byte encoding. */
    private static boolean isMisread(String right, String wrong) {
        if (right.chars().allMatch(c -> c < 0x80)) {
            return false;
        }
        return misread(right, WESTERN).equals(wrong)
                || misread(right, StandardCharsets.ISO_8859_1).equals(wrong)
                || western(right).equals(wrong);
    }

    /** As windows-1252 is read where its five unused bytes are taken for control letters. */
    private static String western(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        StringBuilder read = new StringBuilder();
        for (byte b : bytes) {
            String letter = new String(new byte[] {b}, WESTERN);
            read.append(letter.equals("\uFFFD") ? Character.toString((char) (b & 0xFF)) : letter);
        }
        return read.toString();
    }

    /** Whether letters beyond ASCII became question marks or replacement characters, and nothing else changed. */
    private static boolean isDamaged(String source, String target) {
        if (source.chars().allMatch(c -> c < 0x80) || target.indexOf('?') < 0 && target.indexOf('\uFFFD') < 0) {
            return false;
        }
        StringBuilder pattern = new StringBuilder();
        source.codePoints().forEach(letter -> {
            String one = Character.toString(letter);
            // One mark for a letter, or one for each of its bytes; some letters may have been in the other encoding.
            pattern.append(letter < 0x80 ? Pattern.quote(one) : "(?:" + Pattern.quote(one) + "|[?\uFFFD]{1,4})");
        });
        return Pattern.compile(pattern.toString(), Pattern.DOTALL)
                .matcher(target)
                .matches();
    }
}
