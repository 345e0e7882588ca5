package sharptally.engines.files.text;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How files of one kind are called.
 *
 * @param word by which addresses name them
 * @param endings of their names
 * @param packed whether they may be compressed, with a further ending that says how
 */
public record FileNames(String word, List<String> endings, boolean packed) {
    public FileNames {
        endings = List.copyOf(endings);
    }

    /** The name of a file without its endings, which is that of its table; empty when a file of that name is none of these. */
    public Optional<String> table(String fileName) {
        String bare = bare(fileName);
        String lower = bare.toLowerCase(Locale.ROOT);
        return endings.stream()
                .filter(e -> lower.endsWith(e) && lower.length() > e.length())
                .findFirst()
                .map(e -> bare.substring(0, bare.length() - e.length()));
    }

    /** The table of a file that the user names, whatever its ending. */
    public String tableOf(String fileName) {
        return table(fileName).orElseGet(() -> {
            String bare = bare(fileName);
            int dot = bare.lastIndexOf('.');
            return dot > 0 ? bare.substring(0, dot) : bare;
        });
    }

    private String bare(String fileName) {
        return packed
                ? fileName.substring(
                        0, fileName.length() - Unpacked.ending(fileName).length())
                : fileName;
    }
}
