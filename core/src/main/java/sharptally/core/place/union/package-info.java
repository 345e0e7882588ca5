/** Several places whose tables together are one: the shards of a database, or the parts of an archive. */
package sharptally.core.place.union;
