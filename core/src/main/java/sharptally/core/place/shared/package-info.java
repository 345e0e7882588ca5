/** One place that several comparisons read at the same time, each of its rows and figures asked for once. */
package sharptally.core.place.shared;
