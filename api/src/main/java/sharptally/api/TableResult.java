package sharptally.api;

import java.util.List;
import java.util.Optional;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunState;

/**
 * What was found of one pair of tables.
 *
 * @param name by which it goes
 * @param verdict of these tables alone
 * @param rows how many were compared, and what became of them
 * @param changedColumns the columns in which changed rows differ, most often first
 * @param notes what else is worth knowing
 * @param failure why it was not compared to its end
 */
public record TableResult(
        String name,
        String source,
        String target,
        Verdict verdict,
        Rows rows,
        List<String> changedColumns,
        List<String> notes,
        Optional<String> failure) {
    /**
     * Numbers of rows.
     *
     * @param ofSource that were read or summed in the source
     * @param same on both sides
     * @param changed rows whose key both sides have, with other values
     * @param missing rows that only the source has
     * @param extra rows that only the target has
     * @param repeated keys that stand in several rows of a side
     * @param accepted how many of those that differ are accepted for now
     */
    public record Rows(
            long ofSource,
            long ofTarget,
            long same,
            long changed,
            long missing,
            long extra,
            long repeated,
            long accepted) {}

    public TableResult {
        changedColumns = List.copyOf(changedColumns);
        notes = List.copyOf(notes);
    }

    static TableResult of(MatchSummary match) {
        Verdict verdict = match.state() != RunState.COMPLETE || match.exitCode() > 1
                ? Verdict.INCOMPLETE
                : match.exitCode() == 1 ? Verdict.DIFFERENT : match.nothingDiffers() ? Verdict.SAME : Verdict.ACCEPTED;
        return new TableResult(
                match.name(),
                match.source(),
                match.target(),
                verdict,
                new Rows(
                        match.sourceRows(),
                        match.targetRows(),
                        match.same(),
                        match.changed(),
                        match.missing(),
                        match.extra(),
                        match.repeated(),
                        match.accepted()),
                match.differing().stream().map(ColumnSummary::column).toList(),
                match.notes(),
                match.failure());
    }
}
