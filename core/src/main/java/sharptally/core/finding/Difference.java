package sharptally.core.finding;

import sharptally.core.types.Value;

/** One column of a changed row: its place in the match's column pairs, and what either side holds. */
public record Difference(int pair, Value source, Value target) {}
