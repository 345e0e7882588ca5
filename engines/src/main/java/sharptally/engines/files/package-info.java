/**
 * Files as places: text, JSON lines and workbooks, each file a table or many files one. Start at {@code Files}. Rows are read
 * here, from first to last, and nothing is kept of them; what is in a file is read by {@code files.text}.
 */
@NullMarked
package sharptally.engines.files;

import org.jspecify.annotations.NullMarked;
