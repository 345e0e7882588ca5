package sharptally.formats.job;

import java.time.Clock;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.match.text.RelativeTime;

/**
 * Puts variables of the environment into texts: {@code ${NAME}}, or {@code ${NAME:-default}}, and times as they are from now:
 * {@code ${time:7d}}; {@code $${} is one as it stands.
 *
 * @param clock what is now
 */
record Variables(Map<String, String> environment, Clock clock) {
    private static final Pattern VARIABLE =
            Pattern.compile("\\$\\$\\{|\\$\\{([A-Za-z_][A-Za-z0-9_]*)(:-([^}]*))?\\}|\\$\\{");

    /** The same, but that only some of the variables may be named: others say something of the user that is nobody's business. */
    String replacedOnlyBy(Set<String> names, String text) {
        Matcher matcher = VARIABLE.matcher(text);
        while (matcher.find()) {
            if (matcher.group(1) != null && !names.contains(matcher.group(1))) {
                throw new IllegalArgumentException("the variable " + matcher.group(1)
                        + " would be sent to somebody: write its name into secrets, if it is meant for them");
            }
        }
        return replaced(text);
    }

    /**
     * @throws IllegalArgumentException when a variable is not set and has no default
     */
    String replaced(String text) {
        if (text.indexOf('$') < 0) {
            return text;
        }
        Matcher matcher = VARIABLE.matcher(RelativeTime.filled(text, clock));
        StringBuilder out = new StringBuilder();
        while (matcher.find()) {
            if (matcher.group().equals("${")) {
                throw new IllegalArgumentException(
                        "not a variable: write ${NAME} or ${NAME:-default}, or $${ for these letters as they stand");
            }
            String value = matcher.group(1) == null ? "${" : environment.get(matcher.group(1));
            if (value == null) {
                value = matcher.group(3);
            }
            if (value == null) {
                throw new IllegalArgumentException("the variable " + matcher.group(1)
                        + " is not set; set it, or write a default: ${" + matcher.group(1) + ":-…}");
            }
            matcher.appendReplacement(out, Matcher.quoteReplacement(value));
        }
        return matcher.appendTail(out).toString();
    }
}
