package sharptally.spark.send;

import sharptally.core.range.KeyRange;

/** A range that is to be compared. */
public record SentRange(int number, KeyRange range, long rows) {}
