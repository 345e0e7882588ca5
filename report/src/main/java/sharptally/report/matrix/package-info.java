/** One source held against several targets, side by side. */
package sharptally.report.matrix;
