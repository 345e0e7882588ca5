package sharptally.spark.lake;

import org.apache.spark.sql.Column;
import org.apache.spark.sql.functions;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.RowFilter;
import sharptally.core.types.Value;

/** Which rows are meant, in the terms of Spark. */
final class LakeFilters {
    private LakeFilters() {}

    static Column column(RowFilter filter) {
        if (filter instanceof RowFilter.Condition condition) {
            return functions.expr(condition.text());
        } else if (filter instanceof RowFilter.Null asked) {
            Column column = named(asked.column().name());
            return asked.held() ? column.isNotNull() : column.isNull();
        } else if (filter instanceof RowFilter.Compared compared) {
            Column column = named(compared.column().name());
            Column value = functions.lit(literal(compared.value()));
            return switch (compared.comparison()) {
                case LESS -> column.lt(value);
                case AT_MOST -> column.leq(value);
                case EQUAL -> column.equalTo(value);
                case OTHER -> column.notEqual(value);
                case AT_LEAST -> column.geq(value);
                case MORE -> column.gt(value);
            };
        }
        if (filter instanceof RowFilter.Partition partition) {
            Column column = named(partition.column().name());
            Column within = functions.lit(false);
            for (RowFilter.Span span : partition.spans()) {
                Column one = functions.lit(true);
                if (span.from().isPresent()) {
                    one = one.and(column.geq(functions.lit(literal(span.from().get()))));
                }
                if (span.to().isPresent()) {
                    Column to = functions.lit(literal(span.to().get()));
                    one = one.and(span.closed() ? column.leq(to) : column.lt(to));
                }
                within = within.or(one);
            }
            Column inside = functions
                    .when(column.isNull(), functions.lit(partition.nulls()))
                    .otherwise(within);
            return partition.others() ? functions.not(inside) : inside;
        }
        throw unknown("a sample of rows is not taken by a cluster");
    }

    private static ToolException unknown(String what) {
        return new ToolException(ErrorKind.USAGE, what, "spark", "compare all rows, or by a condition");
    }

    private static Column named(String name) {
        return functions.col("`" + name.replace("`", "``") + "`");
    }

    private static Object literal(Value value) {
        if (value instanceof Value.Bool v) {
            return v.value();
        } else if (value instanceof Value.Int v) {
            return v.value();
        } else if (value instanceof Value.Decimal v) {
            return v.value();
        } else if (value instanceof Value.Real v) {
            return v.value();
        } else if (value instanceof Value.Double v) {
            return v.value();
        } else if (value instanceof Value.Text v) {
            return v.value();
        } else if (value instanceof Value.Bytes v) {
            return v.value();
        } else if (value instanceof Value.Date v) {
            return v.value();
        } else if (value instanceof Value.Timestamp v) {
            return v.value();
        } else if (value instanceof Value.Instant v) {
            return v.value();
        }
        throw unknown("a cluster can't hold a column against this value: " + value);
    }
}
