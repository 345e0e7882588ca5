package sharptally.core.rule;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.types.Kind;

/**
 * One way in which values of a column pair are held equal though they are not equal as they stand. What each means is
 * told in {@code docs/rules.md}. A rule either translates what the sides hold, and is then always applied, or it is
 * looser than equality, and is then applied only to values that differ.
 */
public sealed interface Rule {
    /** The word by which job files and results speak of the rule. */
    String word();

    /** Whether values of this kind can follow the rule. */
    boolean fits(Kind kind);

    /** Whether the rule changes what a value means, rather than what counts as equal. */
    default boolean translates() {
        return false;
    }

    /**
     * Numbers, or times, that lie no further apart than this.
     *
     * @param absolute greatest difference; of times in seconds
     * @param relative greatest difference as a share of the greater magnitude, 0.01 being one percent
     * @param times whether it is about times
     */
    record Within(BigDecimal absolute, BigDecimal relative, boolean times) implements Rule {
        @Override
        public String word() {
            return "within";
        }

        @Override
        public boolean fits(Kind kind) {
            return times ? RuleKinds.TIMES.contains(kind) : RuleKinds.NUMBERS.contains(kind);
        }
    }

    /** Numbers that are equal when rounded, halves up, to so many decimal places. */
    record Decimals(int places) implements Rule {
        @Override
        public String word() {
            return "decimals";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.NUMBERS.contains(kind);
        }
    }

    /** Times that are equal when cut to a whole unit. */
    record Precision(TimeStep unit) implements Rule {
        @Override
        public String word() {
            return "precision";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TIMES.contains(kind) && kind != Kind.DATE;
        }
    }

    /**
     * Zone-less times of a side are local times of a zone; both sides are compared as instants. A local time that a
     * zone has twice is the earlier one of the two; one that it skips lies as far behind the gap as it says.
     *
     * @param source zone of the source's times, as in the tz database; empty for UTC
     */
    record Zone(Optional<String> source, Optional<String> target) implements Rule {
        @Override
        public String word() {
            return "zone";
        }

        @Override
        public boolean fits(Kind kind) {
            return kind == Kind.TIMESTAMP || kind == Kind.INSTANT;
        }

        @Override
        public boolean translates() {
            return true;
        }
    }

    /**
     * Values of the source that the target writes in another way.
     *
     * @param values what the target has for a value of the source
     * @param nulls values of the source for which the target has NULL
     */
    record SameAs(Map<String, String> values, Set<String> nulls) implements Rule {
        public SameAs {
            values = Map.copyOf(values);
            nulls = Set.copyOf(nulls);
        }

        @Override
        public String word() {
            return "same-as";
        }

        @Override
        public boolean fits(Kind kind) {
            return true;
        }

        @Override
        public boolean translates() {
            return true;
        }
    }

    /**
     * Text that stands for a number or a time, and is written in this form and no other.
     *
     * @param decimal what stands before the fraction of a number
     * @param thousands what may stand between each three digits before it
     * @param unit what stands behind a number, with or without a blank between
     * @param time the form of a time, in the letters of {@link java.time.format.DateTimeFormatter}; months by
     *     name are English
     */
    record Written(Optional<String> decimal, Optional<String> thousands, Optional<String> unit, Optional<String> time)
            implements Rule {
        /** A number. */
        public static Written number(String decimal, Optional<String> thousands) {
            return new Written(Optional.of(decimal), thousands, Optional.empty(), Optional.empty());
        }

        /** A date or time. */
        public static Written time(String form) {
            return new Written(Optional.empty(), Optional.empty(), Optional.empty(), Optional.of(form));
        }

        /** The same number in a unit. */
        public Written in(String wanted) {
            return new Written(decimal, thousands, Optional.of(wanted), time);
        }

        @Override
        public String word() {
            return "written";
        }

        @Override
        public boolean fits(Kind kind) {
            return decimal.isPresent() && RuleKinds.NUMBERS.contains(kind)
                    || time.isPresent() && RuleKinds.TIMES.contains(kind);
        }

        @Override
        public boolean translates() {
            return true;
        }
    }

    /** Text that differs in letter case alone, in any language. */
    record IgnoreCase() implements Rule {
        @Override
        public String word() {
            return "case";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }

    /** Text that is equal in one of Unicode's normal forms: NFC, NFD, NFKC or NFKD. */
    record Unicode(String form) implements Rule {
        @Override
        public String word() {
            return "unicode";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }

    /**
     * Text that differs in white space alone.
     *
     * @param outer whether white space at the ends is passed over
     * @param repeated whether white space within counts as one blank, however long
     */
    record Spaces(boolean outer, boolean repeated) implements Rule {
        @Override
        public String word() {
            return "spaces";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }

    /** Empty text is the same as NULL. */
    record EmptyAsNull() implements Rule {
        @Override
        public String word() {
            return "empty-as-null";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }

    /** Text that is JSON on both sides and means the same. */
    record JsonMeaning() implements Rule {
        @Override
        public String word() {
            return "json";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind) || kind == Kind.JSON;
        }
    }

    /** Text that lists the same things, as often, in whatever order. */
    record AnyOrder(String separator) implements Rule {
        @Override
        public String word() {
            return "list";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }

    /** Text that is equal once every part that a regular expression finds has been replaced, one after the other. */
    record Clean(List<Replacement> replacements) implements Rule {
        public Clean {
            replacements = List.copyOf(replacements);
        }

        /**
         * @param pattern a regular expression of java.util.regex
         * @param with what takes its place; $1 is its first group
         */
        public record Replacement(String pattern, String with) {}

        @Override
        public String word() {
            return "clean";
        }

        @Override
        public boolean fits(Kind kind) {
            return RuleKinds.TEXTS.contains(kind);
        }
    }
}
