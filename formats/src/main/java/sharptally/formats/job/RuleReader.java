package sharptally.formats.job;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.ScalarNode;
import sharptally.core.rule.Rule;
import sharptally.core.rule.TimeStep;
import sharptally.core.rule.WrittenForm;

/** Reads the rules that stand among the keys of a column or a rule entry. */
final class RuleReader {
    /** The words of all rules, in the order in which the docs tell of them. */
    static final Set<String> WORDS = new LinkedHashSet<>(List.of(
            "within",
            "decimals",
            "precision",
            "written",
            "zone",
            "case",
            "unicode",
            "spaces",
            "empty-as-null",
            "same-as",
            "json",
            "list",
            "clean"));

    /** Takes a rule back that was given more generally. */
    private static final String NONE = "none";

    private static final Pattern SPAN = Pattern.compile("(\\d+(?:\\.\\d+)?)\\s*(ms|s|min|h|d)");
    private static final Map<String, BigDecimal> SECONDS = Map.of(
            "ms", new BigDecimal("0.001"),
            "s", BigDecimal.ONE,
            "min", BigDecimal.valueOf(60),
            "h", BigDecimal.valueOf(3_600),
            "d", BigDecimal.valueOf(86_400));

    private final YamlMap map;

    RuleReader(YamlMap map) {
        this.map = map;
    }

    /** The rules by their words; empty for those that are taken back. */
    Map<String, Optional<Rule>> read() {
        Map<String, Optional<Rule>> rules = new LinkedHashMap<>();
        for (String word : WORDS) {
            Optional<Node> value = map.node(word);
            if (value.isEmpty()) {
                continue;
            }
            boolean none = value.get() instanceof ScalarNode scalar
                    && (scalar.getValue().equals(NONE) || scalar.getValue().equals("false"));
            if (none) {
                rules.put(word, Optional.empty());
            } else {
                rule(word).ifPresent(rule -> rules.put(word, Optional.of(rule)));
            }
        }
        return rules;
    }

    private Optional<Rule> rule(String word) {
        return switch (word) {
            case "within" -> map.read(word, RuleReader::within, "a number, a percentage, or a time such as 2 s");
            case "decimals" ->
                map.read(
                        word,
                        t -> t.matches("\\d{1,3}")
                                ? Optional.of(new Rule.Decimals(Integer.parseInt(t)))
                                : Optional.empty(),
                        "a number of decimal places");
            case "precision" ->
                map.read(
                        word,
                        t -> Arrays.stream(TimeStep.values())
                                .filter(s -> s.word().equals(t))
                                .findFirst()
                                .map(Rule.Precision::new),
                        "microsecond, millisecond, second, minute, hour or day");
            case "written" -> written();
            case "zone" -> zone();
            case "case" -> one(word, Map.of("ignore", new Rule.IgnoreCase()));
            case "unicode" ->
                map.read(
                        word,
                        t -> Set.of("nfc", "nfd", "nfkc", "nfkd").contains(t.toLowerCase(Locale.ROOT))
                                ? Optional.of(new Rule.Unicode(t.toUpperCase(Locale.ROOT)))
                                : Optional.empty(),
                        "nfc, nfd, nfkc or nfkd");
            case "spaces" ->
                one(
                        word,
                        Map.of(
                                "outer", new Rule.Spaces(true, false),
                                "repeated", new Rule.Spaces(false, true),
                                "any", new Rule.Spaces(true, true)));
            case "empty-as-null" -> one(word, Map.of("true", new Rule.EmptyAsNull()));
            case "json" -> one(word, Map.of("true", new Rule.JsonMeaning()));
            case "list" ->
                map.read(
                        word,
                        t -> t.isEmpty() ? Optional.empty() : Optional.of(new Rule.AnyOrder(t)),
                        "what stands between the things of a list");
            case "same-as" -> sameAs();
            case "clean" -> clean();
            default -> throw new IllegalStateException("no such rule: " + word);
        };
    }

    private Optional<Rule> one(String word, Map<String, Rule> choices) {
        Function<String, Optional<Rule>> choose = text -> Optional.ofNullable(choices.get(text));
        return map.read(
                word,
                choose,
                String.join(" or ", choices.keySet().stream().sorted().toList()) + " or none");
    }

    private static Optional<Rule> within(String text) {
        Matcher span = SPAN.matcher(text.strip());
        if (span.matches()) {
            return Optional.of(new Rule.Within(
                    new BigDecimal(span.group(1)).multiply(SECONDS.get(span.group(2))), BigDecimal.ZERO, true));
        }
        boolean share = text.endsWith("%");
        try {
            BigDecimal number = new BigDecimal((share ? text.substring(0, text.length() - 1) : text).strip());
            if (number.signum() < 0) {
                return Optional.empty();
            }
            return Optional.of(
                    share
                            ? new Rule.Within(BigDecimal.ZERO, number.movePointLeft(2), false)
                            : new Rule.Within(number, BigDecimal.ZERO, false));
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    private Optional<Rule> written() {
        return map.map("written", "decimal", "thousands", "unit", "time").flatMap(form -> {
            Optional<String> decimal = sign(form, "decimal");
            Optional<String> thousands = sign(form, "thousands");
            Optional<String> time = form.read(
                    "time",
                    text -> {
                        try {
                            new WrittenForm(Rule.Written.time(text));
                            return Optional.of(text);
                        } catch (IllegalArgumentException e) {
                            return Optional.empty();
                        }
                    },
                    "the form of a date or time, such as dd.MM.yyyy HH:mm:ss");
            Optional<String> unit = form.read(
                    "unit",
                    text -> text.isBlank() || text.matches(".*[0-9].*") ? Optional.empty() : Optional.of(text.strip()),
                    "what stands behind the numbers, such as m");
            if (decimal.isEmpty() && (time.isEmpty() || unit.isPresent())) {
                map.problem("written", "written should say how: decimal, with or without thousands and unit, or time");
                return Optional.empty();
            }
            return Optional.of(new Rule.Written(decimal, thousands, unit, time));
        });
    }

    private static Optional<String> sign(YamlMap form, String key) {
        return form.read(
                key,
                text -> text.length() == 1 && !text.matches("[0-9-]") ? Optional.of(text) : Optional.empty(),
                "one character");
    }

    private Optional<Rule> zone() {
        if (map.node("zone").filter(MappingNode.class::isInstance).isEmpty()) {
            return zoneAt(map, "zone").map(zone -> new Rule.Zone(Optional.of(zone), Optional.of(zone)));
        }
        YamlMap sides = map.map("zone", "source", "target").orElseThrow();
        return Optional.of(new Rule.Zone(zoneAt(sides, "source"), zoneAt(sides, "target")));
    }

    private static Optional<String> zoneAt(YamlMap where, String key) {
        return where.read(
                key,
                text -> {
                    try {
                        return Optional.of(ZoneId.of(text).getId());
                    } catch (DateTimeException e) {
                        return Optional.empty();
                    }
                },
                "a time zone such as Europe/Oslo or +01:00");
    }

    private Optional<Rule> sameAs() {
        YamlMap values = YamlMap.open(map.context(), map.node("same-as").orElseThrow());
        Map<String, String> same = new LinkedHashMap<>();
        Set<String> nulls = new HashSet<>();
        for (String key : values.keys()) {
            if (YamlMap.isNull(values.node(key).orElseThrow())) {
                values.keyText(key).ifPresent(nulls::add);
            } else {
                values.keyText(key).ifPresent(name -> values.text(key).ifPresent(text -> same.put(name, text)));
            }
        }
        if (same.isEmpty() && nulls.isEmpty()) {
            map.problem("same-as", "same-as should map values of the source to those of the target");
            return Optional.empty();
        }
        return Optional.of(new Rule.SameAs(same, nulls));
    }

    private Optional<Rule> clean() {
        List<Rule.Clean.Replacement> replacements = new ArrayList<>();
        map.each("clean", item -> {
            YamlMap entry = YamlMap.of(map.context(), item, new LinkedHashSet<>(List.of("pattern", "with")));
            Optional<String> pattern = entry.requiredText("pattern");
            String with = entry.text("with").orElse("");
            pattern.ifPresent(p -> {
                try {
                    Matcher matcher = Pattern.compile(p).matcher("");
                    checkGroups(with, matcher.groupCount());
                    replacements.add(new Rule.Clean.Replacement(p, with));
                } catch (PatternSyntaxException e) {
                    entry.problem("pattern", "not a regular expression: " + e.getDescription());
                } catch (IllegalArgumentException e) {
                    entry.problem("with", String.valueOf(e.getMessage()));
                }
            });
        });
        return replacements.isEmpty() ? Optional.empty() : Optional.of(new Rule.Clean(replacements));
    }

    private static void checkGroups(String with, int groups) {
        Matcher reference = Pattern.compile("\\\\.|\\$(\\d|\\{[^}]*\\}|.?)").matcher(with);
        while (reference.find()) {
            String group = reference.group(1);
            boolean ok = group == null || group.matches("\\d") && Integer.parseInt(group) <= groups;
            if (!ok) {
                throw new IllegalArgumentException("the replacement names a group that the pattern does not have: "
                        + reference.group() + "; write \\$ for a dollar sign");
            }
        }
        if (with.matches(".*(^|[^\\\\])(\\\\\\\\)*\\\\$")) {
            throw new IllegalArgumentException("the replacement ends with a lone backslash");
        }
    }
}
