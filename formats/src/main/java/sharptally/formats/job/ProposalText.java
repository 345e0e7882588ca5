package sharptally.formats.job;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import sharptally.core.draft.Proposal;
import sharptally.core.rule.Rule;
import sharptally.core.sql.SqlTerms;
import sharptally.core.types.Excerpt;
import sharptally.core.types.Value;

/** Proposals as comments of a job file: nothing of them holds before somebody takes the comment sign away. */
public final class ProposalText {
    private static final ObjectMapper FLOW = new ObjectMapper();
    private static final int MOST_LETTERS = 40;

    private ProposalText() {}

    /** What stands in a job file for it, without a comment sign: an entry of columns, or leave-out. */
    public static String entry(Proposal proposal) {
        String source = DraftText.scalar(proposal.pair().source().name());
        String target = DraftText.scalar(proposal.pair().target().name());
        if (proposal.change() instanceof Proposal.LeftOut) {
            return "leave-out: [" + source + "]";
        }
        StringBuilder entry = new StringBuilder("- {source: " + source + ", target: " + target);
        if (proposal.change() instanceof Proposal.Scaled scaled) {
            String name = proposal.pair().source().name();
            entry.append(", read: {source: ")
                    .append(DraftText.quoted((name.matches("[a-z_][a-z0-9_]*") ? name : SqlTerms.doubleQuoted(name))
                            + " * " + scaled.factor().toPlainString()))
                    .append('}');
        } else {
            for (Rule rule : ((Proposal.ByRules) proposal.change()).rules()) {
                entry.append(", ").append(rule.word()).append(": ").append(setting(rule));
            }
        }
        return entry.append('}').toString();
    }

    private static String setting(Rule rule) {
        try {
            Object setting = JobFileWriter.setting(rule);
            return setting instanceof String word && word.matches("[a-z]+") ? word : FLOW.writeValueAsString(setting);
        } catch (JsonProcessingException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * The lines of a job file for one proposal, each a comment.
     *
     * @param run the name of the run that it is from
     */
    static List<String> lines(Proposal proposal, String run) {
        List<String> lines = new ArrayList<>();
        boolean leftOut = proposal.change() instanceof Proposal.LeftOut;
        lines.add("# CHECK " + first(proposal) + " (run " + run + "):");
        lines.add("#   " + entry(proposal));
        lines.add("#   " + (leftOut ? "such as" : "hides") + "  " + examples(proposal.hides()));
        if (!proposal.leaves().isEmpty()) {
            lines.add("#   leaves " + examples(proposal.leaves()));
        }
        if (proposal.change().translates()) {
            lines.add("#   it changes what is read, so that values which are the same now may differ by it");
        }
        return lines;
    }

    private static String first(Proposal proposal) {
        String counts = String.format(Locale.ROOT, "%,d of %,d", proposal.explains(), proposal.of());
        return proposal.change() instanceof Proposal.LeftOut
                ? "in " + counts + " rows in which "
                        + DraftText.oneLine(proposal.pair().name()) + " differs nothing else does"
                : counts + " values of " + DraftText.oneLine(proposal.pair().name())
                        + " that differ would be the same by";
    }

    private static String examples(List<Proposal.Example> examples) {
        return examples.stream()
                .map(e -> DraftText.oneLine(shown(e.key()) + ": " + shown(e.source()) + " / " + shown(e.target())))
                .collect(Collectors.joining("; "));
    }

    private static String shown(Value value) {
        return value instanceof Value.Text text
                ? "'" + shown(text.value()) + "'"
                : shown(Excerpt.of(value).toString());
    }

    private static String shown(String text) {
        return text.codePointCount(0, text.length()) > MOST_LETTERS
                ? text.substring(0, text.offsetByCodePoints(0, MOST_LETTERS)) + "…"
                : text;
    }
}
