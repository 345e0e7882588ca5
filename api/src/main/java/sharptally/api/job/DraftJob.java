package sharptally.api.job;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import sharptally.core.draft.Draft;
import sharptally.core.draft.Drafting;
import sharptally.core.draft.Proposal;
import sharptally.core.draft.RuleProposals;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.part.Changes;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.sql.SqlTerms;
import sharptally.core.totals.StartingChecks;
import sharptally.formats.job.DraftText;
import sharptally.formats.job.DraftUpdate;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.ProposalText;
import sharptally.formats.run.RunFolder;

/**
 * Drafts a job file, or adds to one what is new.
 *
 * @param readsRows whether rows may be looked at
 * @param totals whether expectations to begin with are written too
 * @param said pairs of tables as the user wants them
 * @param only tables of the source that take part; empty for all
 * @param not tables of the source that do not take part
 */
public record DraftJob(
        Endpoint source,
        Endpoint target,
        boolean readsRows,
        boolean totals,
        List<Map.Entry<Glob, Glob>> said,
        List<Glob> only,
        List<Glob> not) {
    /** What was drafted, and the job file's text. */
    public record Result(Draft draft, List<Draft.Pair> updated, String jobFile) {}

    /** A new job file. */
    public Result draft(String tool) {
        try (Place from = source.open();
                Place to = target.open()) {
            Draft draft = new Drafting(from, to, readsRows, said)
                    .draft(t -> isWanted(t, from.ownSchema()), t -> !isLeftOut(t, to.ownSchema()));
            List<String> lines = text(from, draft)
                    .jobFile(
                            "sharp-tally " + tool,
                            from.address().toString(),
                            to.address().toString(),
                            draft);
            return new Result(draft, List.of(), String.join("\n", lines) + "\n");
        }
    }

    /** A job file with what is new in its places. */
    public Result update(Path file, String text, JobFile jobFile, JobRequest wish) {
        try (Place from = source.open();
                Place to = target.open()) {
            JobPlan plan = jobFile.matches().isEmpty() ? JobPlan.empty() : wish.plan(from, to);
            Set<String> usedSource = new HashSet<>();
            Set<String> usedTarget = new HashSet<>();
            plan.matches().forEach(m -> {
                usedSource.add(folded(m.source().name()));
                usedTarget.add(folded(m.target().name()));
            });
            Drafting drafting = new Drafting(from, to, readsRows, said);
            Draft draft = drafting.draft(
                    t -> isWanted(t, from.ownSchema())
                            && !usedSource.contains(folded(t))
                            && !isLeftOut(jobFile, t, from.ownSchema()),
                    t -> !isLeftOut(t, to.ownSchema())
                            && !usedTarget.contains(folded(t))
                            && !isLeftOut(jobFile, t, to.ownSchema()));
            List<DraftUpdate.NewColumns> columns = new ArrayList<>();
            for (TableMatch match : plan.matches()) {
                Optional<Draft.Pair> added = newColumns(drafting, match);
                added.ifPresent(p -> columns.add(
                        new DraftUpdate.NewColumns(match.source().name().toString(), p)));
            }
            String updated = new DraftUpdate(file, text, text(from, draft)).updated(draft, columns);
            return new Result(
                    draft, columns.stream().map(DraftUpdate.NewColumns::pair).toList(), updated);
        }
    }

    private static Optional<Draft.Pair> newColumns(Drafting drafting, TableMatch match) {
        boolean tables =
                match.source().query().isEmpty() && match.target().query().isEmpty();
        Set<String> told =
                match.lone().stream().map(ShapeDifference.OnOneSide::column).collect(Collectors.toSet());
        if (!tables || told.isEmpty()) {
            return Optional.empty();
        }
        Draft.Pair pair = drafting.pairOf(match.source(), match.target());
        return Optional.of(new Draft.Pair(
                pair.source(),
                pair.target(),
                pair.how(),
                List.of(),
                pair.columns().stream()
                        .filter(c -> told.contains(c.source().name())
                                && told.contains(c.target().name()))
                        .toList(),
                pair.sourceOnly().stream().filter(c -> told.contains(c.name())).toList(),
                pair.targetOnly().stream().filter(c -> told.contains(c.name())).toList(),
                pair.key()));
    }

    private static boolean isLeftOut(JobFile jobFile, TableName table, String ownSchema) {
        return jobFile.leaveOutTables().stream()
                .anyMatch(g -> g.captures(table, ownSchema).isPresent());
    }

    private static String folded(TableName table) {
        return table.toString().toLowerCase(Locale.ROOT);
    }

    private boolean isWanted(TableName table, String ownSchema) {
        return (only.isEmpty()
                        || only.stream()
                                .anyMatch(g -> g.matches(table.name())
                                        || g.captures(table, ownSchema).isPresent()))
                && !isLeftOut(table, ownSchema);
    }

    private boolean isLeftOut(TableName table, String ownSchema) {
        return not.stream().anyMatch(g -> g.captures(table, ownSchema).isPresent());
    }

    private DraftText text(Place from, Draft draft) {
        Map<Draft.Pair, List<String>> expectations = new HashMap<>();
        if (totals) {
            for (Draft.Pair pair : draft.pairs()) {
                Map<ColumnShape, String> names = new HashMap<>();
                pair.columns().forEach(c -> names.put(c.source(), c.target().name()));
                expectations.put(pair, StartingChecks.of(from, pair.source(), names));
            }
        }
        Optional<Changes> changes = source.engine().changes();
        return new DraftText(
                expectations,
                name -> name.matches("[a-z_][a-z0-9_]*")
                        ? name
                        : changes.map(c -> c.dialect().quote(name)).orElseGet(() -> SqlTerms.doubleQuoted(name)));
    }

    /**
     * A job file's text with what is proposed by what a run found, and the proposals.
     *
     * @param file where the text stands
     */
    public static Proposed proposed(RunFolder run, Path file, String text) {
        List<DraftUpdate.Proposed> all = new ArrayList<>();
        Map<String, List<TableMatch>> tables = new LinkedHashMap<>();
        run.matches()
                .forEach(m -> tables.computeIfAbsent(m.whole().name(), name -> new ArrayList<>())
                        .add(m));
        for (List<TableMatch> parts : tables.values()) {
            TableMatch match = parts.get(0).whole();
            long rows = parts.stream()
                    .flatMap(part -> run.summaryOf(part).stream())
                    .mapToLong(m -> m.same() + m.changed())
                    .sum();
            List<Proposal> proposals = RuleProposals.ordered(new RuleProposals(
                            match, rows, each -> parts.forEach(part -> run.forEach(part, each)))
                    .list().stream());
            if (!proposals.isEmpty()) {
                all.add(new DraftUpdate.Proposed(
                        match.name(), match.source().name().toString(), proposals));
            }
        }
        String updated = new DraftUpdate(file, text, new DraftText(Map.of(), name -> name))
                .proposed(run.summary().run(), all);
        return new Proposed(all, updated);
    }

    /** What was proposed of each match, and the job file's text with it. */
    public record Proposed(List<DraftUpdate.Proposed> matches, String jobFile) {
        /** The proposals, a line each. */
        public List<Line> lines() {
            return matches.stream()
                    .flatMap(m -> m.proposals().stream()
                            .map(p ->
                                    new Line(m.match(), p.pair().name(), ProposalText.entry(p), p.explains(), p.of())))
                    .toList();
        }
    }

    /**
     * One proposal.
     *
     * @param entry as it would stand in the job file
     * @param explains how many of the values that differ would be the same by it
     * @param of how many differ
     */
    public record Line(String match, String column, String entry, long explains, long of) {}

    /**
     * Writes a job file in one step.
     *
     * @throws ToolException when it can't be written; no half-written file is left
     */
    public static void write(Path file, String jobFile) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            Files.writeString(draft, jobFile);
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the job file",
                    file + " (" + e.getMessage() + ")",
                    Hint.OTHER_OUTPUT,
                    e);
        }
    }
}
