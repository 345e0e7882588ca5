/**
 * What other programs call: comparing, totals, scripts and changes from within a test, a service or a pipeline.
 * {@link sharptally.api.SharpTally} is where to begin; see {@code docs/api.md} for examples.
 *
 * <p>Only this package is meant to be called. It shows no type of the packages behind it, keeps no static state, and does
 * not read the environment, a home folder or a terminal unless told to; several jobs may run in one process at once.
 */
package sharptally.api;
