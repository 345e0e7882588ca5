package sharptally.formats.job;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.draft.Draft;
import sharptally.core.match.text.Glob;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/** Writes a draft as a job file with comments: whatever a person should look at stands behind the word CHECK. */
public final class DraftText {
    private static final int COMMENT_COLUMN = 56;

    private final Map<Draft.Pair, List<String>> expectations;
    private final UnaryOperator<String> sqlName;

    /**
     * @param sqlName a column's name as it stands in SQL of the source
     * @param expectations what should hold for the target's tables; empty for nothing
     */
    public DraftText(Map<Draft.Pair, List<String>> expectations, UnaryOperator<String> sqlName) {
        this.expectations = Map.copyOf(expectations);
        this.sqlName = sqlName;
    }

    /** The whole job file, a line each. */
    public List<String> jobFile(String tool, String source, String target, Draft draft) {
        List<String> lines = new ArrayList<>();
        long doubtful = draft.pairs().stream().filter(Draft.Pair::isDoubtful).count();
        lines.add("# Drafted by " + tool + ": " + draft.pairs().size() + " pairs of tables, " + doubtful
                + " of them with something to check.");
        lines.add("# Edit it, and keep it: 'sharp-tally draft --update' adds what is new and leaves the rest alone.");
        lines.add("job: " + JobFile.FORMAT);
        lines.add("source: " + quoted(source));
        lines.add("target: " + quoted(target));
        lines.add("");
        lines.add("matches:");
        if (draft.pairs().isEmpty()) {
            lines.set(lines.size() - 1, "matches: []");
        }
        draft.pairs().forEach(p -> lines.addAll(match(p, "  ")));
        leaveOut(draft, lines);
        return lines;
    }

    /** The tables without a counterpart, left out, so that the job file can be used as it is. */
    private static void leaveOut(Draft draft, List<String> lines) {
        if (draft.sourceOnly().isEmpty() && draft.targetOnly().isEmpty()) {
            return;
        }
        lines.add("");
        lines.add("# CHECK no counterpart was found for these tables; match them by hand, or leave them out as here:");
        lines.add("leave-out-tables:");
        draft.sourceOnly().forEach(t -> lines.add(leftOut(t, "source")));
        draft.targetOnly().forEach(t -> lines.add(leftOut(t, "target")));
    }

    private static String leftOut(TableShape table, String side) {
        return commented("  - " + scalar(Glob.escaped(table.name().toString())), side + "  " + columnsOf(table));
    }

    private static String columnsOf(TableShape table) {
        return "("
                + table.columns().stream()
                        .limit(8)
                        .map(ColumnShape::name)
                        .map(DraftText::oneLine)
                        .collect(Collectors.joining(", "))
                + (table.columns().size() > 8 ? ", …" : "") + ")";
    }

    /** The tables without a counterpart, as a comment. */
    List<String> alone(Draft draft) {
        List<String> lines = new ArrayList<>();
        if (!draft.sourceOnly().isEmpty() || !draft.targetOnly().isEmpty()) {
            lines.add("");
            lines.add("# CHECK no counterpart was found for these tables; match them by hand, or leave them:");
            alone(draft.sourceOnly(), "source", lines);
            alone(draft.targetOnly(), "target", lines);
        }
        return lines;
    }

    private static void alone(List<TableShape> tables, String side, List<String> lines) {
        tables.forEach(t -> lines.add("#   " + side + "  " + oneLine(t.name().toString()) + "  " + columnsOf(t)));
    }

    /** One match, as an item of a list that stands so far to the right. */
    List<String> match(Draft.Pair pair, String indent) {
        List<String> lines = new ArrayList<>();
        pair.doubts().forEach(d -> lines.add(indent + "# CHECK " + oneLine(d)));
        lines.add(
                indent + "- source: " + scalar(Glob.escaped(pair.source().name().toString())));
        String deep = indent + "  ";
        lines.add(deep + "target: " + scalar(Glob.escaped(pair.target().name().toString())));
        pair.key().doubt().ifPresent(d -> lines.add(deep + "# CHECK " + oneLine(d)));
        if (!pair.key().columns().isEmpty()) {
            lines.add(commented(
                    deep + "key: ["
                            + pair.key().columns().stream().map(DraftText::flow).collect(Collectors.joining(", "))
                            + "]",
                    pair.key().how()));
        }
        List<String> columns = new ArrayList<>();
        pair.columns().forEach(c -> column(c, deep + "  ", columns));
        if (!columns.isEmpty()) {
            lines.add(deep + "columns:");
            lines.addAll(columns);
        }
        onlyOn(pair, deep, lines);
        List<String> expect = expectations.getOrDefault(pair, List.of());
        if (!expect.isEmpty()) {
            lines.add(deep + "expect:");
            expect.forEach(e -> lines.add(deep + "  - " + quoted(e)));
        }
        return lines;
    }

    private static void onlyOn(Draft.Pair pair, String deep, List<String> lines) {
        if (!pair.sourceOnly().isEmpty()) {
            lines.add(deep + "# CHECK in the source only, not compared: " + names(pair.sourceOnly()));
        }
        if (!pair.targetOnly().isEmpty()) {
            lines.add(deep + "# CHECK in the target only, not compared: " + names(pair.targetOnly()));
        }
        // One whose name a paired column has too can't be left out by it.
        List<String> names = Stream.concat(pair.sourceOnly().stream(), pair.targetOnly().stream())
                .map(ColumnShape::name)
                .distinct()
                .filter(name -> pair.columns().stream()
                        .noneMatch(c -> c.source().name().equalsIgnoreCase(name)
                                || c.target().name().equalsIgnoreCase(name)))
                .map(Glob::escaped)
                .map(DraftText::flow)
                .toList();
        if (!names.isEmpty()) {
            lines.add(deep + "leave-out: [" + String.join(", ", names) + "]");
        }
    }

    private static String names(List<ColumnShape> columns) {
        return columns.stream().map(ColumnShape::name).map(DraftText::oneLine).collect(Collectors.joining(", "));
    }

    /** One column, if it is not paired by its name alone. */
    void column(Draft.Columns columns, String indent, List<String> lines) {
        if (columns.isByName() && columns.doubt().isEmpty()) {
            return;
        }
        StringBuilder entry =
                new StringBuilder(indent + "- {source: " + flow(columns.source().name()) + ", target: "
                        + flow(columns.target().name()));
        columns.translation().ifPresent(t -> {
            t.factor()
                    .ifPresent(f -> entry.append(
                            ", read: {source: " + quoted(scaled(columns.source().name(), f)) + "}"));
            t.rule().ifPresent(r -> entry.append(r.equals("case") ? ", case: ignore" : ", spaces: any"));
            if (!t.written().isEmpty()) {
                entry.append(new java.util.TreeMap<>(t.written())
                        .entrySet().stream()
                                .map(e -> e.getKey() + ": " + quoted(e.getValue()))
                                .collect(Collectors.joining(", ", ", written: {", "}")));
            }
            if (!t.sameAs().isEmpty()) {
                entry.append(new java.util.TreeMap<>(t.sameAs())
                        .entrySet().stream()
                                .map(e -> quoted(e.getKey()) + ": " + quoted(e.getValue()))
                                .collect(Collectors.joining(", ", ", same-as: {", "}")));
            }
        });
        entry.append("}");
        lines.add(columns.doubt()
                .map(d -> commented(entry.toString(), "CHECK " + d))
                .orElse(entry.toString()));
    }

    /** Divided rather than multiplied where that is exact. */
    private String scaled(String column, String factor) {
        BigDecimal by = new BigDecimal(factor);
        BigDecimal inverse = BigDecimal.ONE.divide(by, MathContext.DECIMAL64).stripTrailingZeros();
        boolean divides = by.abs().compareTo(BigDecimal.ONE) < 0 && inverse.scale() <= 0;
        return sqlName.apply(column) + (divides ? " / " + inverse.toPlainString() + ".0" : " * " + factor);
    }

    private static String commented(String text, String comment) {
        return text + " ".repeat(Math.max(2, COMMENT_COLUMN - text.length())) + "# " + oneLine(comment);
    }

    /** Safe in a comment, whatever the name holds. */
    static String oneLine(String text) {
        return text.replaceAll("\\p{Cntrl}+|[\u2028\u2029\u0085]", " ");
    }

    /** A name as it stands behind a colon. */
    static String scalar(String name) {
        return name.matches("[\\p{L}_][\\p{L}\\p{N}_.-]*") && !isWord(name) ? name : quoted(name);
    }

    /** A name as it stands within brackets. */
    private static String flow(String name) {
        return scalar(name);
    }

    /** Words that YAML takes for something else than text. */
    private static boolean isWord(String name) {
        return name.matches("(?i)y|n|yes|no|on|off|true|false|null|~");
    }

    static String quoted(String text) {
        StringBuilder out = new StringBuilder("\"");
        text.codePoints().forEach(c -> {
            if (c == '"' || c == '\\') {
                out.append('\\').appendCodePoint(c);
            } else if (c == '\n') {
                out.append("\\n");
            } else if (c < 0x20 || c == 0x7f || c == 0x85 || c == 0x2028 || c == 0x2029) {
                out.append(String.format(Locale.ROOT, "\\u%04X", c));
            } else {
                out.appendCodePoint(c);
            }
        });
        return out.append('"').toString().replace("${", "$${");
    }
}
