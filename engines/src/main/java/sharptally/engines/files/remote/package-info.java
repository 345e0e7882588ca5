/**
 * Files that are somewhere else: in an object store that speaks the S3 protocol, or behind https. They are fetched into a
 * folder that is their owner's alone and ends with the program, and read from there.
 */
@NullMarked
package sharptally.engines.files.remote;

import org.jspecify.annotations.NullMarked;
