/** What is printed of comparisons that have ended. */
package sharptally.cli.compare;
