package sharptally.api;

/**
 * What became of differences.
 *
 * @param gone keys that differed and no longer do
 * @param left keys that still differ
 */
public record Rechecked(long gone, long left) {}
