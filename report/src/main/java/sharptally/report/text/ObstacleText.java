package sharptally.report.text;

import sharptally.core.compare.method.MethodDecision;
import sharptally.core.compare.method.MethodEstimate;
import sharptally.core.compare.method.UnusableMethod;
import sharptally.core.fault.ToolException;
import sharptally.core.place.part.Obstacle;

/** Why a method of comparing is used, or can't be, in words. */
public final class ObstacleText {
    private ObstacleText() {}

    /** A clause without a full stop. */
    public static String of(Obstacle obstacle) {
        if (obstacle instanceof Obstacle.NoKey) {
            return "there is no key";
        } else if (obstacle instanceof Obstacle.KeyOrder key) {
            return "key column " + key.column() + " is not ordered alike on both sides";
        } else if (obstacle instanceof Obstacle.ForeignOrder) {
            return "the databases do not order this key as we do";
        } else if (obstacle instanceof Obstacle.NotOffered) {
            return "this engine computes no checksums";
        } else if (obstacle instanceof Obstacle.Translated column) {
            return "a rule translates " + column.column();
        } else if (obstacle instanceof Obstacle.KeyNotUnique key) {
            return key.anySide() ? "neither database holds the key unique" : "the databases do not hold the key unique";
        } else if (obstacle instanceof Obstacle.NoOwnForm) {
            return "the sides have no fast hash functions in common";
        } else if (obstacle instanceof Obstacle.OtherType column) {
            return column.column() + " is of another type on the other side";
        } else if (obstacle instanceof Obstacle.OwnSql) {
            return "a query or condition in SQL is understood in its own file alone";
        } else if (obstacle instanceof Obstacle.OtherStandpoint) {
            return "a view, query or condition could show other rows in the other side's database, or to its user";
        } else if (obstacle instanceof Obstacle.KeyForms key) {
            return "key column " + key.column() + " may hold one value in several forms";
        } else if (obstacle instanceof Obstacle.Apart) {
            return "the tables are not where one database can join them";
        } else if (obstacle instanceof Obstacle.NoForm column) {
            return column.column() + " (" + column.type() + ") has no common form as " + column.comparedAs();
        } else if (obstacle instanceof Obstacle.ComparedAsOther column) {
            return column.column() + " (" + column.type() + ") is compared as another type";
        } else if (obstacle instanceof Obstacle.Failed failed) {
            return failed.message();
        }
        throw new IllegalStateException("no words for " + obstacle);
    }

    /** What a method would do, or why it can't. */
    static String of(MethodEstimate.How how) {
        if (how instanceof MethodEstimate.Reads reads) {
            return reads.sorted() ? "all rows of both sides, sorted here" : "all rows of both sides, in key order";
        } else if (how instanceof MethodEstimate.Hashes hashes) {
            String form = hashes.notOwn()
                    .map(why -> "md5 in the common form (" + of(why) + ")")
                    .orElse("the engine's own hash functions");
            return form + (hashes.scans() ? ", without an index that has our order" : "");
        } else if (how instanceof MethodEstimate.Not not) {
            return "no: " + of(not.why());
        }
        return "one join in the database";
    }

    static String of(MethodDecision.Reason reason) {
        return switch (reason) {
            case ASKED_FOR -> "asked for";
            case NO_OTHER -> "no other can be used";
            case FEW_ROWS -> "few rows";
            case ONE_DATABASE -> "one database sees both tables";
            case SAME_HASHES -> "both sides have the same hash functions";
            case RECORDS -> "equal records of both files are passed over by their hashes, and only the others are read";
            case FASTEST_ON_SAMPLE -> "fastest on a sample";
        };
    }

    /** What failed, with the reason where it is known as a fact. */
    public static String what(ToolException failure) {
        return failure instanceof UnusableMethod unusable
                ? unusable.what() + ": " + of(unusable.obstacle())
                : failure.what();
    }
}
