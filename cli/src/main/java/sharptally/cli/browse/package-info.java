/**
 * Moving through findings on a full screen. {@link sharptally.cli.browse.View} holds what is seen and what keys do,
 * without a terminal; {@link sharptally.cli.browse.FullScreen} draws it and reads keys.
 */
@org.jspecify.annotations.NullMarked
package sharptally.cli.browse;
