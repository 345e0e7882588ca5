package sharptally.formats.job;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import sharptally.core.accept.AtMost;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.match.request.LeftOutColumns;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.request.PairRequest;
import sharptally.core.match.request.RuleRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Extract;
import sharptally.core.place.part.Measure;
import sharptally.core.totals.Expectation;
import sharptally.core.totals.TotalsSettings;
import sharptally.core.types.Kind;

/** Reads the matches of a job file and what holds for all of them. */
final class MatchReader {
    private static final String[] SIDES = {"source", "target"};

    static final Set<String> MATCH_KEYS = new LinkedHashSet<>(List.of(
            "name",
            "source",
            "target",
            "key",
            "columns",
            "leave-out",
            "keep",
            "where",
            "rules",
            "totals",
            "expect",
            "at-most"));
    static final Set<String> DEFAULT_KEYS =
            new LinkedHashSet<>(List.of("key", "leave-out", "where", "rules", "totals", "expect", "at-most"));
    static final Set<String> COLUMN_KEYS = withRules("source", "target", "read");
    static final Set<String> RULE_KEYS = withRules("column", "type");
    static final Set<String> TOTALS_KEYS = new LinkedHashSet<>(List.of("of", "by", "columns", "within"));

    /** What a mapping says that may stand in a match and among the defaults. */
    private record Common(
            List<String> key,
            List<ColumnChoice> leaveOut,
            Map<String, String> where,
            List<RuleRequest> rules,
            Optional<TotalsSettings> totals,
            Map<String, List<Expectation>> expect,
            Optional<AtMost> atMost) {}

    private Common defaults =
            new Common(List.of(), List.of(), Map.of(), List.of(), Optional.empty(), Map.of(), Optional.empty());
    private final List<JobFile.Match> matches = new ArrayList<>();

    private static Set<String> withRules(String... keys) {
        Set<String> all = new LinkedHashSet<>(Arrays.asList(keys));
        all.addAll(RuleReader.WORDS);
        return all;
    }

    /** Takes in the defaults of a job file; those of a job file that includes others stand over theirs. */
    void readDefaults(YamlMap jobFile) {
        jobFile.map("defaults", DEFAULT_KEYS.toArray(new String[0])).ifPresent(map -> {
            Common own = common(map);
            defaults = new Common(
                    own.key().isEmpty() ? defaults.key() : own.key(),
                    Stream.concat(defaults.leaveOut().stream(), own.leaveOut().stream())
                            .toList(),
                    over(defaults.where(), own.where()),
                    Stream.concat(defaults.rules().stream(), own.rules().stream())
                            .toList(),
                    own.totals().or(defaults::totals),
                    over(defaults.expect(), own.expect()),
                    own.atMost().or(defaults::atMost));
        });
    }

    private static <T> Map<String, T> over(Map<String, T> general, Map<String, T> own) {
        Map<String, T> all = new HashMap<>(general);
        all.putAll(own);
        return all;
    }

    /** Takes in one match. */
    void readMatch(YamlMap.Context context, Node node) {
        YamlMap map = YamlMap.of(context, node, MATCH_KEYS);
        if (node instanceof MappingNode) {
            match(map).ifPresent(matches::add);
        }
    }

    /** All matches, in the order in which they were read. */
    List<JobFile.Match> read() {
        return matches.stream().map(this::withDefaults).toList();
    }

    private JobFile.Match withDefaults(JobFile.Match match) {
        MatchRequest wish = match.wish();
        boolean table = wish.source().query().isEmpty();
        MatchRequest whole = new MatchRequest(
                wish.name(),
                where(wish.source(), "source"),
                where(wish.target(), "target"),
                wish.key().isEmpty() && table ? defaults.key() : wish.key(),
                wish.columns(),
                new LeftOutColumns(
                        wish.leftOut().here(),
                        defaults.leaveOut(),
                        wish.leftOut().keep()),
                Stream.concat(defaults.rules().stream(), wish.rules().stream()).toList(),
                wish.pattern());
        return new JobFile.Match(
                whole,
                match.totals().or(defaults::totals),
                match.expectSource().isEmpty()
                        ? defaults.expect().getOrDefault("source", List.of())
                        : match.expectSource(),
                match.expectTarget().isEmpty()
                        ? defaults.expect().getOrDefault("target", List.of())
                        : match.expectTarget(),
                match.atMost().or(defaults::atMost));
    }

    private Extract where(Extract extract, String side) {
        return extract.where().isPresent() || extract.query().isPresent()
                ? extract
                : new Extract(
                        extract.name(),
                        extract.query(),
                        Optional.ofNullable(defaults.where().get(side)),
                        extract.computed());
    }

    private Optional<JobFile.Match> match(YamlMap map) {
        if (!map.has("source")) {
            map.problem("a match needs a source");
            return Optional.empty();
        }
        Common common = common(map);
        Map<String, Map<String, String>> computed = Map.of("source", new HashMap<>(), "target", new HashMap<>());
        List<PairRequest> columns = new ArrayList<>();
        map.each("columns", node -> column(map.context(), node, computed).ifPresent(columns::add));
        Optional<String> name = map.text("name");
        Optional<Extract> source = extract(map, "source", name, common.where(), computed.get("source"));
        Optional<Extract> target = map.has("target")
                ? extract(map, "target", name, common.where(), computed.get("target"))
                : source.map(s -> new Extract(
                        s.name(),
                        Optional.empty(),
                        Optional.ofNullable(common.where().get("target")),
                        computed.get("target")));
        source.filter(s -> s.query().isPresent() && !map.has("target"))
                .ifPresent(s -> map.problem("a match with a query needs a target"));
        if (source.isEmpty() || target.isEmpty()) {
            return Optional.empty();
        }
        boolean pattern =
                source.get().query().isEmpty() && new Glob(source.get().name()).hasWildcard();
        if (pattern && name.isPresent()) {
            map.problem("name", "a match of many tables can't have one name");
        }
        if (!pattern
                && new Glob(target.get().name()).hasWildcard()
                && target.get().query().isEmpty()) {
            map.problem("target", "the target has a * that stands for nothing in the source");
        }
        MatchRequest wish = new MatchRequest(
                name.or(() -> source.get().query().map(q -> source.get().name())),
                pattern ? source.get() : literal(source.get()),
                pattern ? target.get() : literal(target.get()),
                common.key(),
                columns,
                new LeftOutColumns(common.leaveOut(), List.of(), map.texts("keep")),
                common.rules(),
                pattern);
        return Optional.of(new JobFile.Match(
                wish,
                common.totals(),
                common.expect().getOrDefault("source", List.of()),
                common.expect().getOrDefault("target", List.of()),
                common.atMost()));
    }

    /** The extract under the name that is meant: stars in it are no wildcards. */
    private static Extract literal(Extract extract) {
        return extract.query().isPresent()
                ? extract
                : new Extract(new Glob(extract.name()).literal(), extract.query(), extract.where(), extract.computed());
    }

    private static Optional<Extract> extract(
            YamlMap map, String side, Optional<String> name, Map<String, String> where, Map<String, String> computed) {
        Optional<String> condition = Optional.ofNullable(where.get(side));
        if (map.node(side).filter(MappingNode.class::isInstance).isEmpty()) {
            return map.text(side)
                    .filter(text -> !text.isBlank())
                    .map(text -> new Extract(text, Optional.empty(), condition, computed));
        }
        Optional<String> query = map.map(side, "query").flatMap(m -> m.requiredText("query"));
        if (name.isEmpty()) {
            map.problem("a match with a query needs a name, by which its rows go");
        }
        return query.flatMap(q -> name.map(n -> new Extract(n, Optional.of(q), condition, computed)));
    }

    private static Optional<PairRequest> column(
            YamlMap.Context context, Node node, Map<String, Map<String, String>> computed) {
        YamlMap map = YamlMap.of(context, node, COLUMN_KEYS);
        if (!(node instanceof MappingNode)) {
            return Optional.empty();
        }
        Optional<String> source = map.text("source");
        Optional<String> target = map.text("target");
        if (source.isEmpty() && target.isEmpty()) {
            map.problem("a column needs a source, or a target, or both");
            return Optional.empty();
        }
        String one = source.or(() -> target).orElseThrow();
        String other = target.or(() -> source).orElseThrow();
        map.map("read", SIDES).ifPresent(read -> {
            read.text("source").ifPresent(sql -> computed.get("source").put(one, sql));
            read.text("target").ifPresent(sql -> computed.get("target").put(other, sql));
        });
        return Optional.of(new PairRequest(one, other, new RuleReader(map).read()));
    }

    private Common common(YamlMap map) {
        List<RuleRequest> rules = new ArrayList<>();
        map.each("rules", node -> rule(map.context(), node).ifPresent(rules::add));
        return new Common(
                map.texts("key"),
                map.texts("leave-out").stream().map(ColumnChoice::new).toList(),
                where(map),
                rules,
                totals(map),
                expect(map),
                map.read("at-most", AtMost::parse, "a number of rows or a share, such as 20 rows or 0.01%"));
    }

    private static Map<String, String> where(YamlMap map) {
        Map<String, String> where = new HashMap<>();
        if (map.node("where").filter(MappingNode.class::isInstance).isPresent()) {
            map.map("where", SIDES).ifPresent(sides -> sides.eachText(where::put));
        } else {
            map.text("where").ifPresent(sql -> {
                where.put("source", sql);
                where.put("target", sql);
            });
        }
        return where;
    }

    private static Optional<RuleRequest> rule(YamlMap.Context context, Node node) {
        YamlMap map = YamlMap.of(context, node, RULE_KEYS);
        Optional<String> type = map.read(
                "type",
                text -> Arrays.stream(Kind.values())
                        .map(k -> k.name().toLowerCase(Locale.ROOT))
                        .filter(text::equals)
                        .findFirst(),
                "one of "
                        + String.join(
                                ", ",
                                Arrays.stream(Kind.values())
                                        .map(k -> k.name().toLowerCase(Locale.ROOT))
                                        .toList()));
        return node instanceof MappingNode
                ? Optional.of(new RuleRequest(map.text("column").map(Glob::new), type, new RuleReader(map).read()))
                : Optional.empty();
    }

    private static Optional<TotalsSettings> totals(YamlMap map) {
        return map.map("totals", TOTALS_KEYS.toArray(new String[0])).map(totals -> {
            Set<Measure> of = EnumSet.noneOf(Measure.class);
            for (String word : totals.texts("of")) {
                Measure.named(word)
                        .ifPresentOrElse(
                                of::addAll,
                                () -> totals.problem(
                                        "of",
                                        "no such figure: " + word + "; "
                                                + Nearest.question(
                                                        word,
                                                        Arrays.stream(Measure.values())
                                                                .map(Measure::word)
                                                                .toList())));
            }
            Optional<BigDecimal> within = totals.read(
                    "within",
                    text -> text.matches("\\d+(\\.\\d+)?([eE]-?\\d{1,3})?")
                            ? Optional.of(new BigDecimal(text))
                            : Optional.empty(),
                    "a share such as 1e-9");
            return new TotalsSettings(
                    of.isEmpty() ? TotalsSettings.CHEAP : of,
                    totals.texts("by").stream().map(TotalsSettings.By::parse).toList(),
                    totals.texts("columns").stream().map(ColumnChoice::new).toList(),
                    within);
        });
    }

    private static Map<String, List<Expectation>> expect(YamlMap map) {
        Map<String, List<Expectation>> expect = new HashMap<>();
        if (map.node("expect").filter(MappingNode.class::isInstance).isPresent()) {
            map.map("expect", SIDES).ifPresent(sides -> {
                for (String side : SIDES) {
                    expect.put(side, expectations(sides, side));
                }
            });
        } else if (map.has("expect")) {
            expect.put("target", expectations(map, "expect"));
        }
        return expect;
    }

    private static List<Expectation> expectations(YamlMap map, String key) {
        List<Expectation> all = new ArrayList<>();
        for (String text : map.texts(key)) {
            Expectation.parse(text)
                    .ifPresentOrElse(
                            all::add,
                            () -> map.problem(
                                    key,
                                    "not an expectation: " + text
                                            + "; write one such as rows >= 1000 or nulls(name) = 0"));
        }
        return all;
    }
}
