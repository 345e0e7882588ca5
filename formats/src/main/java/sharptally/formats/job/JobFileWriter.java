package sharptally.formats.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Function;
import sharptally.core.accept.AtMost;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.rule.Rule;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;

/** Writes a job file that says expressly all that was decided, so that it makes the same comparison again. */
public final class JobFileWriter {
    /** Unlike that of other files: what stands for NULL is written. */
    private static final ObjectMapper MAPPER =
            Yaml.MAPPER.copy().setDefaultPropertyInclusion(JsonInclude.Include.ALWAYS);

    private JobFileWriter() {}

    /**
     * The job file as YAML.
     *
     * @param accepted the file of accepted differences, by its path from the job file
     * @param atMost how many rows of a match may differ besides
     */
    public static String resolved(
            String source,
            String target,
            JobPlan plan,
            Optional<String> accepted,
            Function<TableMatch, Optional<AtMost>> atMost) {
        Map<String, Object> jobFile = new LinkedHashMap<>();
        jobFile.put("job", JobFile.FORMAT);
        jobFile.put("source", escaped(source));
        jobFile.put("target", escaped(target));
        accepted.ifPresent(name -> jobFile.put("accepted", escaped(name)));
        List<Object> matches = new ArrayList<>();
        for (TableMatch match : plan.matches()) {
            Map<String, Object> written = match(match);
            atMost.apply(match).ifPresent(most -> written.put("at-most", most.toString()));
            matches.add(written);
        }
        // A table of one side alone is looked for on the other side again.
        plan.lone().stream()
                .map(t -> escaped(Glob.escaped(t.name().toString())))
                .forEach(name -> matches.add(Map.of("source", name, "target", name)));
        jobFile.put("matches", matches);
        if (!plan.leftOut().isEmpty()) {
            jobFile.put(
                    "leave-out-tables",
                    plan.leftOut().stream().map(t -> escaped(Glob.escaped(t))).toList());
        }
        try {
            return MAPPER.writeValueAsString(jobFile);
        } catch (JacksonException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What would be taken for a variable stands as it is. */
    private static String escaped(String text) {
        return text.replace("${", "$${");
    }

    private static Map<String, Object> match(TableMatch match) {
        Map<String, Object> out = new LinkedHashMap<>();
        boolean query =
                match.source().query().isPresent() || match.target().query().isPresent();
        if (query || !match.name().equals(match.source().name().name())) {
            out.put("name", escaped(match.name()));
        }
        out.put("source", rows(match.source()));
        out.put("target", rows(match.target()));
        out.put("key", match.keyPairs().stream().map(p -> escaped(p.name())).toList());
        out.put("columns", match.pairs().stream().map(JobFileWriter::pair).toList());
        out.put("leave-out", leftOut(match));
        Map<String, String> where = new LinkedHashMap<>();
        condition(match.source()).ifPresent(w -> where.put("source", escaped(w)));
        condition(match.target()).ifPresent(w -> where.put("target", escaped(w)));
        out.put("where", where);
        out.values().removeIf(v -> v instanceof List<?> l && l.isEmpty() || v instanceof Map<?, ?> m && m.isEmpty());
        return out;
    }

    /** All conditions of the user's own as one. */
    private static Optional<String> condition(TableShape table) {
        return table.filters().stream()
                .filter(RowFilter.Condition.class::isInstance)
                .map(f -> ((RowFilter.Condition) f).text())
                .reduce((one, other) -> "(" + one + "\n) AND (" + other + "\n)");
    }

    private static Object rows(TableShape table) {
        return table.query()
                .<Object>map(q -> Map.of("query", escaped(q)))
                .orElseGet(() -> escaped(Glob.escaped(table.name().toString())));
    }

    private static Map<String, Object> pair(ColumnPair pair) {
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("source", escaped(pair.source().name()));
        out.put("target", escaped(pair.target().name()));
        Map<String, String> read = new LinkedHashMap<>();
        pair.source().expression().ifPresent(e -> read.put("source", escaped(e)));
        pair.target().expression().ifPresent(e -> read.put("target", escaped(e)));
        if (!read.isEmpty()) {
            out.put("read", read);
        }
        pair.rules().forEach(rule -> out.put(rule.word(), setting(rule)));
        return out;
    }

    /** A rule's setting as it is written in a job file. */
    static Object setting(Rule rule) {
        if (rule instanceof Rule.Within within) {
            if (within.times()) {
                return within.absolute().toPlainString() + " s";
            }
            return within.relative().signum() == 0
                    ? within.absolute()
                    : within.relative().multiply(BigDecimal.valueOf(100)).toPlainString() + "%";
        } else if (rule instanceof Rule.Decimals decimals) {
            return decimals.places();
        } else if (rule instanceof Rule.Precision precision) {
            return precision.unit().word();
        } else if (rule instanceof Rule.Written written) {
            Map<String, String> form = new LinkedHashMap<>();
            written.decimal().ifPresent(d -> form.put("decimal", d));
            written.thousands().ifPresent(t -> form.put("thousands", t));
            written.unit().ifPresent(u -> form.put("unit", escaped(u)));
            written.time().ifPresent(t -> form.put("time", escaped(t)));
            return form;
        } else if (rule instanceof Rule.Zone zone) {
            Map<String, String> sides = new LinkedHashMap<>();
            zone.source().ifPresent(z -> sides.put("source", z));
            zone.target().ifPresent(z -> sides.put("target", z));
            return sides;
        } else if (rule instanceof Rule.SameAs same) {
            Map<String, Object> values = new LinkedHashMap<>();
            new TreeSet<>(same.values().keySet())
                    .forEach(k -> values.put(escaped(k), escaped(same.values().get(k))));
            new TreeSet<>(same.nulls()).forEach(k -> values.put(escaped(k), null));
            return values;
        } else if (rule instanceof Rule.Unicode unicode) {
            return unicode.form().toLowerCase(java.util.Locale.ROOT);
        } else if (rule instanceof Rule.Spaces spaces) {
            return spaces.outer() ? spaces.repeated() ? "any" : "outer" : "repeated";
        } else if (rule instanceof Rule.AnyOrder list) {
            return escaped(list.separator());
        } else if (rule instanceof Rule.Clean clean) {
            List<Map<String, String>> all = new ArrayList<>();
            clean.replacements()
                    .forEach(r -> all.add(Map.of("pattern", escaped(r.pattern()), "with", escaped(r.with()))));
            return all;
        }
        return rule instanceof Rule.IgnoreCase ? "ignore" : true;
    }

    private static List<String> leftOut(TableMatch match) {
        return match.leftOut().stream()
                .map(Glob::escaped)
                .map(JobFileWriter::escaped)
                .toList();
    }
}
