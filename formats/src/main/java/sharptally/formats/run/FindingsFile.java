package sharptally.formats.run;

/**
 * A file of findings as it was written, so that whoever reads it can tell whether it still is that.
 *
 * @param name relative to the run folder
 * @param lines how many findings it holds
 * @param digest SHA-256 of its bytes, in hexadecimal digits
 */
public record FindingsFile(String name, long lines, String digest) {}
