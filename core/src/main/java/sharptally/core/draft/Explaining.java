package sharptally.core.draft;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.finding.Difference;
import sharptally.core.match.ColumnPair;
import sharptally.core.place.Side;
import sharptally.core.rows.Cast;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rule.Rule;
import sharptally.core.rule.RuleSet;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/** Tells of values that differ whether they would be the same by a change, just as a comparison with it would. */
final class Explaining {
    private final Proposal.Change change;
    private final Cast sourceCast;
    private final Cast targetCast;
    private final RuleSet rules;

    Explaining(ColumnPair pair, Proposal.Change change) {
        this.change = change;
        List<Rule> all = new ArrayList<>(pair.rules());
        if (change instanceof Proposal.ByRules by) {
            all.removeIf(rule -> by.rules().stream().anyMatch(r -> r.word().equals(rule.word())));
            all.addAll(by.rules());
        }
        ColumnPair changed = new ColumnPair(pair.source(), pair.target(), pair.comparedAs(), all);
        sourceCast = changed.sourceCast();
        targetCast = changed.targetCast();
        rules = changed.toRuleSet();
    }

    Proposal.Change change() {
        return change;
    }

    boolean explains(Difference difference) {
        if (change instanceof Proposal.Scaled scaled) {
            Optional<BigDecimal> source = Numbers.of(difference.source());
            Optional<BigDecimal> target = Numbers.of(difference.target());
            return source.isPresent()
                    && target.isPresent()
                    && source.get().multiply(scaled.factor()).compareTo(target.get()) == 0;
        }
        Column source = rules.translated(sourceCast.apply(cell(difference.source())), Side.SOURCE);
        Column target = rules.translated(targetCast.apply(cell(difference.target())), Side.TARGET);
        return CellOrder.same(source, 0, target, 0)
                || rules.holding(source.value(0), target.value(0)).isPresent();
    }

    private static Column cell(Value value) {
        Column cell = new Column(1);
        cell.add(value);
        return cell;
    }
}
