package sharptally.core.rule;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.text.Normalizer;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.place.Side;
import sharptally.core.rows.Cast;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.JsonText;
import sharptally.core.types.Kind;
import sharptally.core.types.Numbers;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * The rules of one column pair, ready to be applied. They work on values that were brought to the kind in which the
 * pair is compared, first those that translate, then the looser ones in one fixed order, whatever the order in which
 * they were written: {@code clean}, {@code unicode}, {@code spaces}, {@code case}, {@code list}, {@code empty-as-null},
 * {@code json}, {@code decimals}, {@code precision}, {@code within}. Immutable.
 */
public final class RuleSet {
    private static final List<String> ORDER = List.of(
            "written",
            "zone",
            "same-as",
            "clean",
            "unicode",
            "spaces",
            "case",
            "list",
            "empty-as-null",
            "json",
            "decimals",
            "precision",
            "within");

    private static final Pattern OUTER = Pattern.compile("^\\p{IsWhite_Space}+|\\p{IsWhite_Space}+$");
    private static final Pattern REPEATED = Pattern.compile("\\p{IsWhite_Space}+");

    private final List<Rule> translating;
    private final List<Rule> looser;
    private final Optional<Rule.Within> within;
    private final Kind kind;
    private final Optional<WrittenForm> written;
    private final List<Map.Entry<Pattern, String>> replacements;

    /**
     * @param kind in which the pair's values are compared
     */
    public RuleSet(List<Rule> rules, Kind kind) {
        List<Rule> ordered = rules.stream()
                .sorted(Comparator.comparingInt(r -> ORDER.indexOf(r.word())))
                .toList();
        this.kind = kind;
        translating = ordered.stream().filter(Rule::translates).toList();
        looser = ordered.stream()
                .filter(r -> !r.translates() && !(r instanceof Rule.Within))
                .toList();
        within = ordered.stream()
                .filter(Rule.Within.class::isInstance)
                .map(Rule.Within.class::cast)
                .findFirst();
        written = ordered.stream()
                .filter(Rule.Written.class::isInstance)
                .map(rule -> new WrittenForm((Rule.Written) rule))
                .findFirst();
        replacements = ordered.stream()
                .filter(Rule.Clean.class::isInstance)
                .flatMap(r -> ((Rule.Clean) r).replacements().stream())
                .map(r -> Map.entry(Pattern.compile(r.pattern()), r.with()))
                .toList();
    }

    /** Whether there is no rule at all. */
    public boolean isEmpty() {
        return translating.isEmpty() && looser.isEmpty() && within.isEmpty();
    }

    /** Whether what the sides hold is translated before it is compared. */
    public boolean translates() {
        return !translating.isEmpty();
    }

    /** Whether values that are equal by these rules have one common form, so that rows can be put in order by it. */
    public boolean hasCommonForm() {
        return within.isEmpty();
    }

    /** Whether the order of values is another in the common form. */
    public boolean changesOrder() {
        return !looser.isEmpty()
                || translating.stream().anyMatch(r -> r instanceof Rule.SameAs || r instanceof Rule.Written);
    }

    /** The translating rules' words, for results. */
    public String translatingWords() {
        return words(translating);
    }

    /** The words of all rules, for results. */
    public String words() {
        return Stream.of(translating, looser)
                .filter(rules -> !rules.isEmpty())
                .map(RuleSet::words)
                .collect(Collectors.joining(" + "));
    }

    private static String words(List<Rule> rules) {
        return rules.stream().map(Rule::word).collect(Collectors.joining(" + "));
    }

    /** The cells of one side, translated. */
    public Column translated(Column column, Side side) {
        return translating.isEmpty() ? column : each(column, value -> translate(value, side));
    }

    /** Translated cells of either side, brought to one form by every looser rule. */
    public Column loosened(Column translated) {
        return looser.isEmpty() ? translated : each(translated, value -> loosen(value, looser));
    }

    private static Column each(Column column, java.util.function.UnaryOperator<Value> change) {
        Column out = new Column(column.size());
        for (int row = 0; row < column.size(); row++) {
            out.add(change.apply(column.value(row)));
        }
        return out;
    }

    /**
     * What a value of the source is called in the target; as it is where the form of a rule can't tell it.
     *
     * @param targetKind of the target's column
     */
    public Value toTarget(Value value, Kind targetKind) {
        Value translated = translate(value, Side.SOURCE);
        boolean local = targetKind == Kind.TIMESTAMP && translated instanceof Value.Instant;
        Optional<Rule.Zone> zone = translating.stream()
                .filter(Rule.Zone.class::isInstance)
                .map(Rule.Zone.class::cast)
                .findFirst();
        Value told = local && zone.isPresent()
                ? new Value.Timestamp(LocalDateTime.ofInstant(
                        ((Value.Instant) translated).value(), zoneOf(zone.get().target())))
                : translated;
        return isToBeWritten(told, targetKind)
                ? written.orElseThrow()
                        .write(told, kind)
                        .<Value>map(Value.Text::new)
                        .orElse(told)
                : told;
    }

    /** Whether a value of the target's is text in the form of a rule, which this one is not yet. */
    public boolean isToBeWritten(Value value, Kind targetKind) {
        return written.isPresent()
                && targetKind == Kind.TEXT
                && !(value instanceof Value.Null)
                && !(value instanceof Value.Text);
    }

    private static ZoneId zoneOf(Optional<String> zone) {
        return zone.map(ZoneId::of).orElse(ZoneOffset.UTC);
    }

    /** A value of one side as the translating rules have it. */
    private Value translate(Value value, Side side) {
        Value out = value;
        for (Rule rule : translating) {
            if (rule instanceof Rule.Written && out instanceof Value.Text text) {
                out = inKind(written.orElseThrow().read(text.value(), kind).orElse(out));
            } else if (rule instanceof Rule.Zone zone) {
                out = inZone(out, side == Side.SOURCE ? zone.source() : zone.target());
            } else if (rule instanceof Rule.SameAs same && side == Side.SOURCE) {
                out = mapped(out, same);
            }
        }
        return out;
    }

    /** A time without a zone is taken as UTC where instants are compared, unless a rule says which zone it is in. */
    private Value inKind(Value read) {
        boolean zoned = translating.stream().anyMatch(Rule.Zone.class::isInstance);
        return kind == Kind.INSTANT && !zoned && read instanceof Value.Timestamp local
                ? new Value.Instant(local.value().toInstant(ZoneOffset.UTC))
                : read;
    }

    private static Value inZone(Value value, Optional<String> zone) {
        if (value instanceof Value.Timestamp local) {
            return new Value.Instant(local.value().atZone(zoneOf(zone)).toInstant());
        }
        // Text that tells its own zone.
        return value instanceof Value.Text text
                ? TimeText.readInstant(text.value())
                        .<Value>map(Value.Instant::new)
                        .orElse(value)
                : value;
    }

    private Value mapped(Value value, Rule.SameAs same) {
        String text = value.toString();
        if (value instanceof Value.Null) {
            return value;
        }
        if (same.nulls().contains(text)) {
            return Value.NULL;
        }
        String other = same.values().get(text);
        if (other == null) {
            return value;
        }
        Column cell = new Column(1);
        cell.addText(other);
        return kind == Kind.ANY || kind == Kind.OTHER || kind == Kind.BYTES
                ? new Value.Text(other)
                : new Cast(CanonicalType.of(Kind.TEXT), kind).apply(cell).value(0);
    }

    /**
     * The rules that hold two values equal which differ even when translated: the one rule that does so alone, else
     * all of them together; empty when the values differ by the rules too.
     *
     * @param source as compared and translated
     * @param target as compared and translated
     */
    public Optional<String> holding(Value source, Value target) {
        for (Rule rule : looser) {
            if (same(loosen(source, List.of(rule)), loosen(target, List.of(rule)))) {
                return Optional.of(rule.word());
            }
        }
        if (within.isPresent() && isWithin(source, target)) {
            return Optional.of(within.get().word());
        }
        if (looser.isEmpty()) {
            return Optional.empty();
        }
        Value one = loosen(source, looser);
        Value other = loosen(target, looser);
        if (same(one, other)) {
            return Optional.of(words(looser));
        }
        return within.isPresent() && isWithin(one, other)
                ? Optional.of(words(looser) + " + " + within.get().word())
                : Optional.empty();
    }

    private static boolean same(Value one, Value other) {
        Column cells = new Column(2);
        cells.add(one);
        cells.add(other);
        return CellOrder.same(cells, 0, cells, 1);
    }

    private Value loosen(Value value, List<Rule> rules) {
        Value out = value;
        for (Rule rule : rules) {
            out = loosen(out, rule);
        }
        return out;
    }

    private Value loosen(Value value, Rule rule) {
        if (value instanceof Value.Text text) {
            return ofText(text, rule);
        }
        if (rule instanceof Rule.Decimals decimals) {
            return Numbers.of(value)
                    .<Value>map(n -> new Value.Decimal(n.setScale(decimals.places(), RoundingMode.HALF_UP)))
                    .orElse(value);
        }
        return rule instanceof Rule.Precision precision ? cut(value, precision.unit()) : value;
    }

    private Value ofText(Value.Text text, Rule rule) {
        String value = text.value();
        if (rule instanceof Rule.Clean) {
            for (var replacement : replacements) {
                value = replacement.getKey().matcher(value).replaceAll(replacement.getValue());
            }
            return new Value.Text(value);
        } else if (rule instanceof Rule.Unicode unicode) {
            return new Value.Text(Normalizer.normalize(value, Normalizer.Form.valueOf(unicode.form())));
        } else if (rule instanceof Rule.Spaces spaces) {
            value = spaces.outer() ? OUTER.matcher(value).replaceAll("") : value;
            return new Value.Text(
                    spaces.repeated() ? REPEATED.matcher(value).replaceAll(Matcher.quoteReplacement(" ")) : value);
        } else if (rule instanceof Rule.IgnoreCase) {
            // Upper case first: some letters have one lower case form only by way of it.
            return new Value.Text(value.toUpperCase(Locale.ROOT).toLowerCase(Locale.ROOT));
        } else if (rule instanceof Rule.AnyOrder list) {
            return new Value.Text(Arrays.stream(value.split(Pattern.quote(list.separator()), -1))
                    .map(String::strip)
                    .sorted()
                    .collect(Collectors.joining(list.separator())));
        } else if (rule instanceof Rule.EmptyAsNull) {
            return value.isEmpty() ? Value.NULL : text;
        } else if (rule instanceof Rule.JsonMeaning) {
            return JsonText.canonical(value)
                    .<Value>map(c -> new Value.Other("json", c))
                    .orElse(text);
        }
        return text;
    }

    private static Value cut(Value value, TimeStep unit) {
        if (value instanceof Value.Time time) {
            return new Value.Time(Math.floorDiv(time.nanos(), unit.nanos()) * unit.nanos());
        } else if (value instanceof Value.Timestamp timestamp) {
            return new Value.Timestamp(cut(timestamp.value(), unit));
        } else if (value instanceof Value.Instant instant) {
            LocalDateTime utc = LocalDateTime.ofInstant(instant.value(), ZoneOffset.UTC);
            return new Value.Instant(cut(utc, unit).toInstant(ZoneOffset.UTC));
        }
        return value;
    }

    private static LocalDateTime cut(LocalDateTime time, TimeStep unit) {
        long nanos = time.toLocalTime().toNanoOfDay();
        return time.toLocalDate().atStartOfDay().plusNanos(nanos - nanos % unit.nanos());
    }

    private boolean isWithin(Value one, Value other) {
        Rule.Within rule = within.orElseThrow();
        Optional<BigDecimal> left = rule.times() ? seconds(one) : Numbers.of(one);
        Optional<BigDecimal> right = rule.times() ? seconds(other) : Numbers.of(other);
        if (left.isEmpty() || right.isEmpty()) {
            return false;
        }
        BigDecimal apart = left.get().subtract(right.get()).abs();
        BigDecimal magnitude = left.get().abs().max(right.get().abs());
        return apart.compareTo(rule.absolute()) <= 0
                || apart.compareTo(rule.relative().multiply(magnitude)) <= 0;
    }

    private static Optional<BigDecimal> seconds(Value value) {
        if (value instanceof Value.Time time) {
            return Optional.of(BigDecimal.valueOf(time.nanos(), 9));
        } else if (value instanceof Value.Date date) {
            return Optional.of(BigDecimal.valueOf(date.value().toEpochDay() * 86_400L));
        } else if (value instanceof Value.Timestamp timestamp) {
            return Optional.of(seconds(timestamp.value().toInstant(ZoneOffset.UTC)));
        } else if (value instanceof Value.Instant instant) {
            return Optional.of(seconds(instant.value()));
        }
        return Optional.empty();
    }

    private static BigDecimal seconds(Instant instant) {
        return BigDecimal.valueOf(instant.getEpochSecond()).add(BigDecimal.valueOf(instant.getNano(), 9));
    }
}
