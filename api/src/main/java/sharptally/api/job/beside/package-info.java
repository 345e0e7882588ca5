/** What is looked at beside the rows of a comparison. */
package sharptally.api.job.beside;
