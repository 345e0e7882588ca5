package sharptally.formats.run;

/**
 * Values of a column that are the same only by a rule.
 *
 * @param column source name
 * @param rule the rule's word; several with a plus sign between where only all of them together do
 */
public record RuleSummary(String column, String rule, long rows) {}
