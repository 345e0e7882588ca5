package sharptally.core.match;

import sharptally.core.place.Side;

/**
 * A column that has no counterpart on the other side, and was not left out on request.
 *
 * @param side where it stands
 */
public record LoneColumn(Side side, String name) {}
