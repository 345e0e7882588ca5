package sharptally.core.script;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;

/**
 * Matches of single partitions as one of their table, so that a change in one comes before what needs it in another. Their
 * findings follow each other, partition by partition.
 */
record PartsAsOne(FindingReader findings, Map<String, List<TableMatch>> parts) implements FindingReader {
    static PartsAsOne of(List<TableMatch> matches, FindingReader findings) {
        Map<String, List<TableMatch>> parts = new LinkedHashMap<>();
        matches.forEach(match -> parts.computeIfAbsent(match.whole().name(), name -> new ArrayList<>())
                .add(match));
        return new PartsAsOne(findings, parts);
    }

    List<TableMatch> matches() {
        return parts.values().stream().map(all -> all.get(0).whole()).toList();
    }

    private List<TableMatch> of(TableMatch whole) {
        return parts.getOrDefault(whole.name(), List.of(whole));
    }

    @Override
    public void forEach(TableMatch match, Set<FindingKind> kinds, Consumer<Finding> consumer) {
        of(match).forEach(part -> findings.forEach(part, kinds, consumer));
    }

    @Override
    public boolean mayHave(TableMatch match, FindingKind kind) {
        return of(match).stream().anyMatch(part -> findings.mayHave(part, kind));
    }
}
