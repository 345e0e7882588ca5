package sharptally.report.findings;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.LikelyCause;
import sharptally.core.match.TableMatch;
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
    private static final Pattern AMOUNT = Pattern.compile("off by ([-+][0-9.]+)");
    /** Digits of the ends of a range of amounts. */
    private static final MathContext ENDS_TOLD = new MathContext(3);

    private static final int MAX_CAUSES = 200;
    private static final int CAUSES_KEPT = 5;

    /** In how many rows one cause is likely. */
    public record Cause(String words, long rows) {
        /** With its share of the rows in which the column differs. */
        public String shown(long of) {
            return words + (rows == of ? " (all)" : " (" + Figures.share(rows, of) + ")");
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
        long rows;
        final Map<String, Long> causes = new HashMap<>();
        FindingValues first;
        String key = "";
        private long amounts;
        private BigDecimal least = BigDecimal.ZERO;
        private BigDecimal most = BigDecimal.ZERO;

        Counting(FindingValues first) {
            this.first = first;
        }

        void add(FindingValues values) {
            rows++;
            LikelyCause.of(
                            values.comparedAs(),
                            values.source().orElseThrow(),
                            values.target().orElseThrow())
                    .ifPresent(this::add);
        }

        private void add(String words) {
            Matcher amount = AMOUNT.matcher(words);
            if (amount.matches()) {
                BigDecimal off = new BigDecimal(amount.group(1));
                amounts++;
                least = amounts == 1 ? off : least.min(off);
                most = amounts == 1 ? off : most.max(off);
            }
            if (causes.size() < MAX_CAUSES || causes.containsKey(words)) {
                causes.merge(words, 1L, Long::sum);
            }
        }

        /** The causes; amounts of which none stands out are told together. */
        List<Cause> all() {
            List<Cause> all = new ArrayList<>();
            boolean scattered = causes.entrySet().stream()
                    .filter(c -> AMOUNT.matcher(c.getKey()).matches())
                    .allMatch(c -> 2 * c.getValue() < amounts);
            causes.forEach((words, of) -> {
                if (!scattered || !AMOUNT.matcher(words).matches()) {
                    all.add(new Cause(words, of));
                }
            });
            if (scattered && amounts > 0) {
                all.add(new Cause("off by " + signed(least) + " to " + signed(most), amounts));
            }
            return all;
        }

        private static String signed(BigDecimal amount) {
            return (amount.signum() > 0 ? "+" : "")
                    + amount.round(ENDS_TOLD).stripTrailingZeros().toPlainString();
        }
    }

    private static List<ColumnCauses> ofMatch(RunFolder run, TableMatch match, FindingFilter filter) {
        Map<String, Counting> columns = new LinkedHashMap<>();
        long[] changed = {0};
        run.forEach(match, java.util.Set.of(FindingKind.CHANGED), finding -> {
            if (!(finding instanceof Finding.Changed) || !filter.wants(match, finding)) {
                return;
            }
            changed[0]++;
            for (FindingValues values : FindingValues.of(match, finding, filter)) {
                Counting column = columns.get(values.column());
                if (column == null) {
                    column = new Counting(values);
                    column.key = FindingFilter.keyText(finding.key());
                    columns.put(values.column(), column);
                }
                column.add(values);
            }
        });
        return columns.entrySet().stream()
                .map(e -> new ColumnCauses(
                        match.name(),
                        e.getKey(),
                        e.getValue().rows,
                        changed[0],
                        e.getValue().all().stream()
                                .sorted(Comparator.comparingLong(Cause::rows)
                                        .reversed()
                                        .thenComparing(Cause::words))
                                .limit(CAUSES_KEPT)
                                .toList(),
                        e.getValue().key,
                        e.getValue().first.shown(e.getValue().first.source().orElseThrow()),
                        e.getValue().first.shown(e.getValue().first.target().orElseThrow())))
                .sorted(Comparator.comparingLong(ColumnCauses::rows).reversed())
                .toList();
    }
}
