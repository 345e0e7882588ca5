package sharptally.core.structure;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.Declaration;
import sharptally.core.shape.Declaration.Sort;
import sharptally.core.shape.Declarations;

/**
 * Holds what both sides of a match declare against each other. Names are the database's own affair, and count for nothing
 * but for triggers and rights. What is written in other words may mean the same; it is told as such.
 */
public final class StructureComparison {
    private static final Pattern REFERRED = Pattern.compile("to (?:.*\\.)?([^.]+) \\((.*)\\)(.*)");

    private final TableMatch match;
    private final Declarations source;
    private final Declarations target;
    private final List<TableMatch> all;
    private final Map<String, String> names = new HashMap<>();
    private final List<StructureDifference> found = new ArrayList<>();

    private StructureComparison(TableMatch match, List<TableMatch> all, Declarations source, Declarations target) {
        this.match = match;
        this.all = all;
        this.source = source;
        this.target = target;
        match.pairs()
                .forEach(pair -> names.put(
                        pair.target().name().toLowerCase(Locale.ROOT),
                        pair.source().name()));
    }

    /**
     * What both databases tell of, and differs.
     *
     * @param all the matches that tables may refer to
     */
    public static List<StructureDifference> of(
            TableMatch match, List<TableMatch> all, Declarations source, Declarations target) {
        StructureComparison comparison = new StructureComparison(match, all, source, target);
        for (Sort sort : Sort.values()) {
            if (source.told().contains(sort) && target.told().contains(sort)) {
                comparison.compare(sort);
            }
        }
        return List.copyOf(comparison.found);
    }

    private void compare(Sort sort) {
        List<Declaration> left = new ArrayList<>(source.of(sort));
        List<Declaration> right = new ArrayList<>(target.of(sort));
        left.removeIf(one -> {
            Optional<Declaration> same =
                    right.stream().filter(other -> isSame(one, other)).findFirst();
            same.ifPresent(right::remove);
            return same.isPresent();
        });
        left.removeIf(one -> isServed(one, target, false));
        right.removeIf(other -> isServed(other, source, true));
        for (Declaration one : left) {
            Optional<Declaration> alike =
                    right.stream().filter(other -> isAlike(one, other)).findFirst();
            alike.ifPresent(right::remove);
            add(one, Optional.of(one), alike);
        }
        right.forEach(other -> add(other, Optional.empty(), Optional.of(other)));
    }

    private void add(Declaration one, Optional<Declaration> ofSource, Optional<Declaration> ofTarget) {
        found.add(new StructureDifference(
                match.name(),
                one.sort(),
                columns(one, ofSource.isEmpty()),
                ofSource.map(StructureComparison::words).orElse(""),
                ofTarget.map(StructureComparison::words).orElse(""),
                Meaning.of(one.sort(), ofSource.isPresent(), ofTarget.isPresent())));
    }

    private static String words(Declaration one) {
        String columns = String.join(", ", one.columns());
        return switch (one.sort()) {
            case KEY, UNIQUE, INDEX -> "(" + columns + ")" + (one.text().isEmpty() ? "" : " " + one.text());
            case REFERENCE -> "(" + columns + ") " + one.text();
            case CHECK, DEFAULT -> one.text();
            case NUMBERING -> columns;
            case TRIGGER, RIGHT -> one.name() + (one.text().isEmpty() ? "" : ": " + one.text());
        };
    }

    /** Columns by the source's names, small. */
    private List<String> columns(Declaration one, boolean ofTarget) {
        return one.columns().stream()
                .map(column -> ofTarget ? names.getOrDefault(column.toLowerCase(Locale.ROOT), column) : column)
                .map(column -> column.toLowerCase(Locale.ROOT))
                .toList();
    }

    private boolean isSame(Declaration one, Declaration other) {
        List<String> here = columns(one, false);
        List<String> there = columns(other, true);
        return switch (one.sort()) {
            case KEY, NUMBERING -> here.equals(there);
            case UNIQUE, INDEX ->
                (one.sort() == Sort.INDEX ? here.equals(there) : sorted(here).equals(sorted(there)))
                        && plain(one).equals(plain(other));
            case REFERENCE ->
                sorted(here).equals(sorted(there)) && referred(one, false).equals(referred(other, true));
            case DEFAULT -> here.equals(there) && plain(one).equals(plain(other));
            case CHECK -> plain(one).equals(plain(other));
            case TRIGGER, RIGHT ->
                one.name().equalsIgnoreCase(other.name()) && plain(one).equals(plain(other));
        };
    }

    /** Whether they stand for each other, though they are written otherwise. */
    private boolean isAlike(Declaration one, Declaration other) {
        return switch (one.sort()) {
            case TRIGGER, RIGHT -> one.name().equalsIgnoreCase(other.name());
            case KEY -> true;
            case CHECK -> named(one).equals(named(other));
            default -> sorted(columns(one, false)).equals(sorted(columns(other, true)));
        };
    }

    /** Columns of a check, by the source's names; not every engine tells them but in its text. */
    private Set<String> named(Declaration check) {
        Set<String> words = new HashSet<>(Arrays.asList(
                renamed(check.text().replaceAll("[^\\p{L}\\p{N}_$]+", " ").toLowerCase(Locale.ROOT))
                        .split(" ")));
        return match.pairs().stream()
                .map(pair -> pair.source().name().toLowerCase(Locale.ROOT))
                .filter(words::contains)
                .collect(Collectors.toSet());
    }

    /** An index is none that is missing where another one, or a key, begins with its columns; so is a unique key of a primary one. */
    private boolean isServed(Declaration one, Declarations others, boolean ofTarget) {
        if (one.sort() != Sort.INDEX && one.sort() != Sort.UNIQUE || !one.text().isEmpty()) {
            return false;
        }
        List<String> columns = columns(one, ofTarget);
        return others.all().stream()
                .filter(other -> other.text().isEmpty())
                .filter(other -> one.sort() == Sort.INDEX
                        ? other.sort() == Sort.KEY || other.sort() == Sort.UNIQUE || other.sort() == Sort.INDEX
                        : other.sort() == Sort.KEY)
                .map(other -> columns(other, !ofTarget))
                .anyMatch(other -> one.sort() == Sort.INDEX
                        ? other.size() >= columns.size()
                                && other.subList(0, columns.size()).equals(columns)
                        : sorted(other).equals(sorted(columns)));
    }

    private static List<String> sorted(List<String> columns) {
        return columns.stream().sorted().toList();
    }

    /** The text without what engines write each in their own way: casts, quotes, brackets, blanks. */
    private String plain(Declaration one) {
        String text = one.text()
                .replaceAll("::\"?[a-zA-Z_ ]+\"?(\\([0-9, ]*\\))?(\\[\\])?", "")
                .replaceAll("(?i)\\b(cast|_utf8mb4|timestamp|date)\\b(?=\\s*[('])", "")
                .replaceAll("[\\s()\"`\\[\\]]", "")
                .toLowerCase(Locale.ROOT);
        String stamp = text.replaceAll("^(current_timestamp|now|localtimestamp)[0-9]*$", "now");
        String bare = stamp.replaceAll("'(-?[0-9.]+)'", "$1");
        // Some write a text that is a default without quotes.
        return renamed(one.sort() == Sort.DEFAULT ? bare.replaceAll("^'(.*)'$", "$1") : bare);
    }

    /** The table and columns that are referred to, by the source's names where they are of a match. */
    private List<String> referred(Declaration one, boolean ofTarget) {
        Matcher text = REFERRED.matcher(one.text());
        if (!text.matches()) {
            return List.of(plain(one));
        }
        List<String> columns = List.of(text.group(2).split(", "));
        Optional<TableMatch> parent = all.stream()
                .filter(m -> (ofTarget ? m.target() : m.source()).name().name().equalsIgnoreCase(text.group(1)))
                .findFirst();
        List<String> words = new ArrayList<>(
                List.of(parent.map(m -> m.source().name().name()).orElse(text.group(1)), text.group(3)));
        for (String column : columns) {
            words.add(parent.stream()
                    .flatMap(m -> m.pairs().stream())
                    .filter(pair ->
                            (ofTarget ? pair.target() : pair.source()).name().equalsIgnoreCase(column))
                    .map(pair -> pair.source().name())
                    .findFirst()
                    .orElse(column));
        }
        return words.stream().map(word -> word.toLowerCase(Locale.ROOT)).toList();
    }

    /** Words that are columns of the target, by the source's names. */
    private String renamed(String text) {
        String all = names.keySet().stream()
                .sorted((one, other) -> other.length() - one.length())
                .map(Pattern::quote)
                .collect(Collectors.joining("|"));
        return all.isEmpty()
                ? text
                : Pattern.compile("\\b(" + all + ")\\b")
                        .matcher(text)
                        .replaceAll(found -> Matcher.quoteReplacement(
                                names.get(found.group()).toLowerCase(Locale.ROOT)));
    }
}
