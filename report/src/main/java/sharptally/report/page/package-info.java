/**
 * Reports to keep and to hand on: a page in one file, Markdown, and JUnit XML. Start at {@link
 * sharptally.report.page.Report}. Templates stand beside the classes; what goes into them is escaped by their engine.
 */
@org.jspecify.annotations.NullMarked
package sharptally.report.page;
