/** One source held against several targets. */
package sharptally.api.job.many;
