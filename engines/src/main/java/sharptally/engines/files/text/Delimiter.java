package sharptally.engines.files.text;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import de.siegmar.fastcsv.reader.FieldMismatchStrategy;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Finds what stands between the fields of a file: that by which its first records have most fields, and all as many. */
final class Delimiter {
    private static final String CANDIDATES = ",;\t|";
    private static final int LOOKED_AT_CHARS = 1 << 16;
    private static final int LOOKED_AT_RECORDS = 100;

    private Delimiter() {}

    /** A comma where nothing stands out. */
    static char of(Path file, FileForm form) throws IOException {
        String start;
        boolean whole;
        try (Decoded text = Decoded.open(file, form.encoding())) {
            char[] chars = new char[LOOKED_AT_CHARS];
            int filled = 0;
            int read = 0;
            while (filled < chars.length && read >= 0) {
                read = text.reader().read(chars, filled, chars.length - filled);
                filled += Math.max(0, read);
            }
            start = new String(chars, 0, filled);
            whole = read < 0;
        } catch (java.nio.charset.CharacterCodingException e) {
            // Whoever reads the rows says where it is.
            return ',';
        }
        char best = ',';
        int most = 1;
        for (char candidate : CANDIDATES.toCharArray()) {
            int fields = fields(start, whole, candidate, form.quote().orElse('"'));
            if (fields > most) {
                most = fields;
                best = candidate;
            }
        }
        return best;
    }

    /** How many fields all records have; 0 where they have not as many. */
    private static int fields(String start, boolean whole, char delimiter, char quote) {
        List<Integer> counts = new ArrayList<>();
        try (CsvReader<CsvRecord> reader = CsvReader.builder()
                .fieldSeparator(delimiter)
                .quoteCharacter(quote == 0 ? '\uFFFE' : quote)
                .skipEmptyLines(true)
                .extraFieldStrategy(FieldMismatchStrategy.IGNORE)
                .missingFieldStrategy(FieldMismatchStrategy.IGNORE)
                .ofCsvRecord(start)) {
            for (CsvRecord each : reader) {
                counts.add(each.getFieldCount());
                if (counts.size() > LOOKED_AT_RECORDS) {
                    break;
                }
            }
        } catch (CsvParseException | UncheckedIOException e) {
            return 0;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        if (!whole && counts.size() > 1 && counts.size() <= LOOKED_AT_RECORDS) {
            // The last one was cut off.
            counts.remove(counts.size() - 1);
        }
        return counts.stream().distinct().count() == 1 ? counts.get(0) : 0;
    }
}
