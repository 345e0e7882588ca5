/** Lists of findings as text, CSV and JSON Lines. Start with {@code FindingList}. */
@NullMarked
package sharptally.report.findings;

import org.jspecify.annotations.NullMarked;
