package sharptally.core.match;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.request.PairRequest;
import sharptally.core.match.request.RuleRequest;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Finds the rules of each column pair: the pair's own, else those of the match or the job file that are for it. */
record RuleChoice(MatchRequest wish, String match) {
    /** The pair with its rules; those that can't be followed are added to the problems. */
    ColumnPair withRules(ColumnPair pair, Optional<PairRequest> own, List<String> problems) {
        Map<String, Rule> rules = new TreeMap<>();
        if (pair.comparedAs() == Kind.TEXT && isNeverEmpty(pair.source()) != isNeverEmpty(pair.target())) {
            // One of the two engines can't hold what the other one can; taken back as any rule is.
            Rule.EmptyAsNull rule = new Rule.EmptyAsNull();
            rules.put(rule.word(), rule);
        }
        for (RuleRequest general : wish.rules()) {
            if (isFor(general, pair)) {
                settle(general.settings(), pair, general.isAboutOne(), rules, problems);
            }
        }
        own.ifPresent(p -> settle(p.rules(), pair, true, rules, problems));
        boolean zoned = rules.containsKey("zone");
        return new ColumnPair(
                pair.source(),
                pair.target(),
                zoned && pair.comparedAs() == Kind.TIMESTAMP ? Kind.INSTANT : pair.comparedAs(),
                List.copyOf(rules.values()));
    }

    private static boolean isNeverEmpty(ColumnShape column) {
        return column.type().filter(CanonicalType::isNeverEmpty).isPresent();
    }

    private void settle(
            Map<String, Optional<Rule>> settings,
            ColumnPair pair,
            boolean mustFit,
            Map<String, Rule> rules,
            List<String> problems) {
        settings.forEach((word, rule) -> {
            if (rule.isEmpty()) {
                rules.remove(word);
            } else if (rule.get().fits(pair.comparedAs())) {
                rules.put(word, rule.get());
            } else if (mustFit) {
                problems.add("rule " + word + " does not fit column " + match + "." + pair.name()
                        + ", whose values are compared as "
                        + pair.comparedAs().name().toLowerCase(Locale.ROOT) + "; see docs/rules.md");
            }
        });
    }

    /** Adds what can't be: a tolerance in the key, where rows must have one place in the order. */
    static void checkKey(List<ColumnPair> pairs, List<Integer> key, String match, List<String> problems) {
        for (int i = 0; i < pairs.size(); i++) {
            boolean orders = key.isEmpty() || key.contains(i);
            if (orders && !pairs.get(i).toRuleSet().hasCommonForm()) {
                problems.add("rule within can't be followed in " + match + "."
                        + pairs.get(i).name() + ", which "
                        + (key.isEmpty() ? "belongs to rows without a key" : "is in the key")
                        + "; round it with decimals or precision");
            }
        }
    }

    private static boolean isFor(RuleRequest rule, ColumnPair pair) {
        return rule.isFor(pair.source(), pair.target(), pair.comparedAs());
    }

    /** Rules of the match itself that are for no column at all. */
    static List<String> idle(List<RuleRequest> ofMatch, List<ColumnPair> pairs, String match) {
        List<String> problems = new ArrayList<>();
        for (RuleRequest rule : ofMatch) {
            if (rule.isAboutOne() && pairs.stream().noneMatch(p -> isFor(rule, p))) {
                problems.add("a rule names no compared column: " + match + "."
                        + rule.columns().orElseThrow().text());
            }
        }
        return problems;
    }
}
