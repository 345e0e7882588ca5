package sharptally.report.findings;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.finding.ColumnCause;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.LikelyCause;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.Figures;

/**
 * A column in which rows differ, and what most likely made them differ.
 *
 * @param rows changed rows in which it differs
 * @param changed changed rows of its table
 * @param causes the most frequent first; rows of no known cause are in none
 * @param key of the first such row
 */
public record ColumnCauses(
        String table,
        String column,
        long rows,
        long changed,
        List<Cause> causes,
        String key,
        String source,
        String target) {
    private static final int CAUSES_KEPT = 5;
    private static final int MOST_SWAPPED = 60;
    /** Digits of the ends of a range, which is told as about so. */
    private static final MathContext ENDS_TOLD = new MathContext(3);

    private static final Pattern AMOUNT = Pattern.compile("off by ([-+][0-9.]+)");

    /** In how many rows one cause is likely. */
    public record Cause(String words, long rows) {
        /** With the rows that speak for it, of those in which the column differs. */
        public String shown(long of) {
            return words + " (" + Figures.count(rows) + " of " + Figures.count(of, "row") + ")";
        }
    }

    /** Reads all chosen findings through once; columns of each table with most rows first. */
    public static List<ColumnCauses> of(RunFolder run, FindingFilter filter) {
        List<ColumnCauses> all = new ArrayList<>();
        for (TableMatch match : run.matches()) {
            if (filter.wants(match) && filter.hasColumns(match) && run.mayHave(match, FindingKind.CHANGED)) {
                all.addAll(ofMatch(run, match, filter));
            }
        }
        return all;
    }

    private static final class Counting {
        final ColumnCause cause = new ColumnCause();
        final FindingValues first;
        final String key;
        private long amounts;
        private BigDecimal least = BigDecimal.ZERO;
        private BigDecimal most = BigDecimal.ZERO;

        Counting(FindingValues first, String key) {
            this.first = first;
            this.key = key;
        }

        void add(FindingValues values, List<String> swappedWith) {
            List<LikelyCause> all = new ArrayList<>(LikelyCause.all(
                    values.comparedAs(),
                    values.source().orElseThrow(),
                    values.target().orElseThrow()));
            all.forEach(this::amount);
            swappedWith.forEach(other -> all.add(new LikelyCause("swapped with " + other, LikelyCause.Sort.GUESS, 5)));
            cause.add(all);
        }

        private void amount(LikelyCause one) {
            Matcher amount = AMOUNT.matcher(one.words());
            if (amount.matches()) {
                BigDecimal off = new BigDecimal(amount.group(1));
                amounts++;
                least = amounts == 1 ? off : least.min(off);
                most = amounts == 1 ? off : most.max(off);
            }
        }

        /** The causes; where nothing else is known, in which range numbers differ. */
        List<Cause> all() {
            List<Cause> all = cause.found().stream()
                    .map(found -> new Cause(found.words(), found.rows()))
                    .limit(CAUSES_KEPT)
                    .toList();
            return all.isEmpty() && amounts > 1 && least.compareTo(most) != 0
                    ? List.of(new Cause("off by some " + signed(least) + " to " + signed(most), amounts))
                    : all;
        }

        private static String signed(BigDecimal amount) {
            return (amount.signum() > 0 ? "+" : "")
                    + amount.round(ENDS_TOLD).stripTrailingZeros().toPlainString();
        }
    }

    /** Names of the columns whose values stand in a column's place, and its values in theirs. */
    private static List<String> swapped(List<FindingValues> row, FindingValues one) {
        if (row.size() < 2 || row.size() > MOST_SWAPPED) {
            return List.of();
        }
        return row.stream()
                .filter(other ->
                        other != one && isHeld(one.source(), other.target()) && isHeld(other.source(), one.target()))
                .map(FindingValues::column)
                .toList();
    }

    private static boolean isHeld(Optional<Value> here, Optional<Value> there) {
        return here.isPresent()
                && there.isPresent()
                && !(here.get() instanceof Value.Null)
                && here.get().toString().equals(there.get().toString());
    }

    private static List<ColumnCauses> ofMatch(RunFolder run, TableMatch match, FindingFilter filter) {
        Map<String, Counting> columns = new LinkedHashMap<>();
        long[] changed = {0};
        run.forEach(match, java.util.Set.of(FindingKind.CHANGED), finding -> {
            if (!(finding instanceof Finding.Changed) || !filter.wants(match, finding)) {
                return;
            }
            changed[0]++;
            List<FindingValues> row = FindingValues.of(match, finding, filter);
            for (FindingValues values : row) {
                columns.computeIfAbsent(
                                values.column(), name -> new Counting(values, FindingFilter.keyText(finding.key())))
                        .add(values, swapped(row, values));
            }
        });
        return columns.entrySet().stream()
                .map(e -> new ColumnCauses(
                        match.name(),
                        e.getKey(),
                        e.getValue().cause.pairs(),
                        changed[0],
                        e.getValue().all(),
                        e.getValue().key,
                        e.getValue().first.shown(e.getValue().first.source().orElseThrow()),
                        e.getValue().first.shown(e.getValue().first.target().orElseThrow())))
                .sorted(Comparator.comparingLong(ColumnCauses::rows).reversed())
                .toList();
    }
}
