package sharptally.core.compare;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;

/** Findings as they come, in memory. */
final class Kept implements FindingSink {
    final List<Finding> findings = new ArrayList<>();

    @Override
    public void accept(Finding finding) {
        findings.add(finding);
    }

    @Override
    public void restart() {
        findings.clear();
    }
}
