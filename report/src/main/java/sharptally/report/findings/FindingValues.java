package sharptally.report.findings;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Excerpt;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.report.text.TextWidth;

/** A finding taken apart: one entry per column, with what either side holds. */
record FindingValues(String column, Kind comparedAs, Optional<Value> source, Optional<Value> target) {
    /** The differing columns of a changed row that are wanted, or all columns of a row that one side has. */
    static List<FindingValues> of(TableMatch match, Finding finding, FindingFilter filter) {
        if (finding instanceof Finding.Changed changed) {
            return changed.differences().stream()
                    .filter(d -> filter.wants(match, d))
                    .map(d -> new FindingValues(
                            match.pairs().get(d.pair()).name(),
                            kind(match, d.pair()),
                            Optional.of(d.source().beside(d.target())),
                            Optional.of(d.target().beside(d.source()))))
                    .toList();
        }
        if (finding instanceof Finding.Missing missing) {
            var columns = match.sourceColumns();
            return IntStream.range(0, columns.size())
                    .mapToObj(i -> new FindingValues(
                            columns.get(i).name(),
                            kind(match, i),
                            Optional.of(missing.row().get(i)),
                            Optional.empty()))
                    .toList();
        }
        if (finding instanceof Finding.Extra extra) {
            var columns = match.targetColumns();
            return IntStream.range(0, columns.size())
                    .mapToObj(i -> new FindingValues(
                            columns.get(i).name(),
                            kind(match, i),
                            Optional.empty(),
                            Optional.of(extra.row().get(i))))
                    .toList();
        }
        return List.of();
    }

    private static Kind kind(TableMatch match, int column) {
        return column < match.pairs().size() ? match.pairs().get(column).comparedAs() : Kind.ANY;
    }

    /** A value for people: text in quotes, so that blanks show and NULL is not the word NULL; control letters visible. */
    String shown(Value value) {
        boolean quoted = value instanceof Value.Text && (comparedAs == Kind.TEXT || comparedAs == Kind.ANY);
        String text = TextWidth.harmless(Excerpt.of(value).toString());
        return quoted ? "'" + text + "'" : text;
    }
}
