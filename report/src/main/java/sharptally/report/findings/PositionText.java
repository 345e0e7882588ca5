package sharptally.report.findings;

import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.finding.Positions;
import sharptally.report.text.TextWidth;

/** Where rows stand, such as the line of a file, as it is shown. */
final class PositionText {
    private PositionText() {}

    /** Both sides in one; empty where nothing is known. */
    static String of(Positions positions) {
        return TextWidth.harmless(Stream.of(positions.source(), positions.target())
                .flatMap(java.util.Optional::stream)
                .collect(Collectors.joining(" > ")));
    }

    /** With the side that is meant, where there is but one. */
    static String named(Positions positions) {
        String text = of(positions);
        if (positions.source().isPresent() && positions.target().isPresent()) {
            return text;
        }
        return text.isEmpty() ? "" : (positions.source().isPresent() ? "source " : "target ") + text;
    }
}
