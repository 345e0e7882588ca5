package sharptally.acceptance;

import java.lang.annotation.ElementType;
import java.lang.annotation.Inherited;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.extension.ConditionEvaluationResult;
import org.junit.jupiter.api.extension.ExecutionCondition;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.api.extension.ExtensionContext;

/**
 * Tests that take long, of which one run may leave some to others: with {@code -Dsharptally.share=2/4}, those are run whose
 * number, divided by four, leaves two. Without it, all are.
 */
@Target(ElementType.TYPE)
@Retention(RetentionPolicy.RUNTIME)
@Inherited
@ExtendWith(InTurn.Condition.class)
@interface InTurn {
    /** From 0 to 3, such that the classes of each number take about as long. */
    int value();

    /** Whether it is the turn of a class. */
    final class Condition implements ExecutionCondition {
        private static final Pattern SHARE = Pattern.compile("(\\d+)/(\\d+)");

        @Override
        public ConditionEvaluationResult evaluateExecutionCondition(ExtensionContext context) {
            String share = System.getProperty("sharptally.share", "0/1");
            Matcher parts = SHARE.matcher(share);
            if (!parts.matches()) {
                throw new IllegalArgumentException("-Dsharptally.share=" + share + ": say for instance 2/4");
            }
            int shares = Integer.parseInt(parts.group(2));
            int number =
                    context.getRequiredTestClass().getAnnotation(InTurn.class).value();
            return number % shares == Integer.parseInt(parts.group(1)) % shares
                    ? ConditionEvaluationResult.enabled("it is its turn")
                    : ConditionEvaluationResult.disabled("it is not its turn: share " + share);
        }
    }
}
