package sharptally.core.common;

/**
 * Something that may be so of a row.
 *
 * @param words such as {@code region = 'N'}
 * @param rank how simple it is: among those that tell as much, the least is told
 */
public record Trait(String words, int rank) {}
