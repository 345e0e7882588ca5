package sharptally.core.draft;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.draft.Draft.Columns;
import sharptally.core.draft.Draft.Translation;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rule.Rule;
import sharptally.core.rule.WrittenForm;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Finds out how text of files is written that stands for numbers, times or booleans of the other side. */
final class WrittenDraft {
    private static final List<Rule.Written> NUMBERS = List.of(
            number(",", "."),
            number(",", " "),
            number(",", "\u00A0"),
            number(",", "'"),
            number(".", ","),
            number(".", "'"));
    /** Where a day and a month may be either, the day comes first. */
    private static final List<String> DATES = List.of(
            "dd.MM.yyyy", "dd/MM/yyyy", "MM/dd/yyyy", "dd-MM-yyyy", "yyyy/MM/dd", "yyyyMMdd", "d.M.yyyy", "d MMM yyyy");

    private static final List<String> TIMES =
            List.of("", " HH:mm:ss", " HH:mm", " H:mm", "'T'HH:mm:ss", " HH:mm:ss.SSS", "HHmmss");
    private static final List<Map<String, Boolean>> TRUTHS = List.of(
            Map.of("Y", true, "N", false),
            Map.of("YES", true, "NO", false),
            Map.of("J", true, "N", false),
            Map.of("JA", true, "NEIN", false),
            Map.of("O", true, "N", false),
            Map.of("ON", true, "OFF", false));

    /** What is no part of a number, behind one. */
    private static final Pattern UNIT = Pattern.compile("-?[0-9].*?[0-9]?[ \u00a0]?([^0-9., '\u00a0-][^0-9]*)");

    private WrittenDraft() {}

    private static Rule.Written number(String decimal, String thousands) {
        return Rule.Written.number(decimal, Optional.of(thousands));
    }

    /** The same columns, with how they are written where that is found. */
    static List<Columns> of(List<Columns> columns, Supplier<Optional<List<Sample>>> samples) {
        boolean any = columns.stream().anyMatch(WrittenDraft::isOpen);
        Optional<List<Sample>> read = any ? samples.get() : Optional.empty();
        return read.map(both -> columns.stream()
                        .map(c -> isOpen(c) ? found(c, both).orElse(c) : c)
                        .toList())
                .orElse(columns);
    }

    private static boolean isWritten(ColumnShape column) {
        return column.type().filter(CanonicalType::isWritten).isPresent();
    }

    private static boolean isOpen(Columns columns) {
        return columns.translation().isEmpty() && isWritten(columns.source()) != isWritten(columns.target());
    }

    private static Optional<Columns> found(Columns columns, List<Sample> both) {
        boolean ofSource = isWritten(columns.source());
        ColumnShape text = ofSource ? columns.source() : columns.target();
        ColumnShape other = ofSource ? columns.target() : columns.source();
        Sample sample = both.get(ofSource ? 0 : 1);
        int place = sample.placeOf(text);
        Kind kind = other.type().map(CanonicalType::kind).orElse(Kind.OTHER);
        Set<String> texts = place < 0 ? Set.of() : sample.distinct(place);
        if (texts.isEmpty() || texts.stream().allMatch(t -> isPlain(t, kind))) {
            return Optional.empty();
        }
        return switch (kind) {
            case INTEGER, DECIMAL, FLOAT, DOUBLE ->
                fitting(NUMBERS, texts, kind)
                        .or(() -> inUnit(texts, kind))
                        .map(form -> with(columns, form, texts))
                        .or(() -> ofSource ? truth(columns, texts, kind) : Optional.empty());
            case DATE, TIMESTAMP, INSTANT ->
                fitting(times(), texts, kind == Kind.INSTANT ? Kind.TIMESTAMP : kind)
                        .map(form -> with(columns, form, texts));
            case BOOLEAN -> ofSource ? truth(columns, texts, kind) : Optional.empty();
            default -> Optional.empty();
        };
    }

    /** Whether it is understood without any rule. */
    private static boolean isPlain(String text, Kind kind) {
        Column cell = new Column(1);
        cell.addText(text);
        return !new Cast(CanonicalType.written(), kind).apply(cell).value(0).equals(cell.value(0));
    }

    private static List<Rule.Written> times() {
        return DATES.stream()
                .flatMap(date -> TIMES.stream().map(time -> Rule.Written.time(date + time)))
                .toList();
    }

    private static Optional<Rule.Written> fitting(List<Rule.Written> forms, Collection<String> texts, Kind kind) {
        return forms.stream()
                .filter(rule -> {
                    WrittenForm form = new WrittenForm(rule);
                    return texts.stream().allMatch(t -> form.read(t, kind).isPresent());
                })
                .findFirst();
    }

    /** Numbers with the same unit behind each of them; a point alone comes before the fraction rather than after thousands. */
    private static Optional<Rule.Written> inUnit(Set<String> texts, Kind kind) {
        Set<String> units = texts.stream()
                .map(UNIT::matcher)
                .map(m -> m.matches() ? m.group(1) : "")
                .collect(Collectors.toSet());
        if (units.size() != 1 || units.contains("")) {
            return Optional.empty();
        }
        String unit = units.iterator().next();
        List<Rule.Written> forms = Stream.concat(
                        Stream.of(Rule.Written.number(".", Optional.empty())), NUMBERS.stream())
                .map(form -> form.in(unit))
                .toList();
        return fitting(forms, texts, kind);
    }

    private static Columns with(Columns columns, Rule.Written form, Set<String> texts) {
        Map<String, String> words = new LinkedHashMap<>();
        form.decimal().ifPresent(d -> words.put("decimal", d));
        // What no value shows is not guessed at.
        form.thousands()
                .filter(t -> texts.stream().anyMatch(text -> text.contains(t)))
                .ifPresent(t -> words.put("thousands", t));
        form.unit().ifPresent(u -> words.put("unit", u));
        form.time().ifPresent(t -> words.put("time", t));
        String example = texts.stream().sorted().findFirst().orElse("");
        return new Columns(
                columns.source(),
                columns.target(),
                Optional.of(joined(columns, "written as " + example + ", which this rule reads")),
                Optional.of(new Translation(Optional.empty(), Map.of(), Optional.empty(), words)));
    }

    private static Optional<Columns> truth(Columns columns, Set<String> texts, Kind kind) {
        return TRUTHS.stream()
                .filter(words -> texts.stream().allMatch(t -> words.containsKey(t.toUpperCase(Locale.ROOT))))
                .findFirst()
                .map(words -> {
                    Map<String, String> same = texts.stream()
                            .collect(Collectors.toMap(t -> t, t -> said(words.get(t.toUpperCase(Locale.ROOT)), kind)));
                    return new Columns(
                            columns.source(),
                            columns.target(),
                            Optional.of(joined(
                                    columns,
                                    "written as " + String.join(", ", new ArrayList<>(same.keySet()))
                                            + " in the source")),
                            Optional.of(new Translation(Optional.empty(), same, Optional.empty(), Map.of())));
                });
    }

    private static String said(boolean truth, Kind kind) {
        return kind == Kind.BOOLEAN ? String.valueOf(truth) : truth ? "1" : "0";
    }

    private static String joined(Columns columns, String doubt) {
        return columns.doubt().map(d -> d + "; " + doubt).orElse(doubt);
    }
}
