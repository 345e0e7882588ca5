package sharptally.core.structure;

import sharptally.core.shape.Declaration.Sort;

/** What it means for the data that two tables are declared otherwise. */
final class Meaning {
    private Meaning() {}

    static String of(Sort sort, boolean ofSource, boolean ofTarget) {
        if (ofSource && ofTarget) {
            return both(sort);
        }
        return ofSource ? onlySource(sort) : onlyTarget(sort);
    }

    private static String both(Sort sort) {
        return switch (sort) {
            case CHECK -> "written otherwise: read both, they may mean the same";
            case DEFAULT -> "rows that are inserted without a value may get another one";
            case REFERENCE -> "rows may refer to others, or what refers is treated otherwise";
            case TRIGGER -> "runs at other moments";
            case RIGHT -> "may do other things there";
            case KEY -> "rows are told apart by other columns";
            default -> "declared otherwise";
        };
    }

    private static String onlySource(Sort sort) {
        return switch (sort) {
            case KEY, UNIQUE -> "the target takes values twice that the source refuses";
            case REFERENCE -> "rows of the target may refer to none";
            case CHECK -> "the target takes values that the source refuses";
            case DEFAULT -> "rows inserted into the target without a value get NULL, or are refused";
            case NUMBERING -> "rows inserted into the target must bring their number";
            case TRIGGER -> "what it does is not done in the target";
            case INDEX -> "nothing; looking rows up by it is slow in the target";
            case RIGHT -> "may not do this in the target";
        };
    }

    private static String onlyTarget(Sort sort) {
        return switch (sort) {
            case KEY, UNIQUE -> "the target refuses rows whose values repeat";
            case REFERENCE -> "the target refuses rows that refer to none";
            case CHECK -> "the target may refuse rows of the source";
            case DEFAULT -> "rows inserted into the source without a value get NULL, or are refused";
            case NUMBERING -> "numbers of the target may run behind those that are carried over";
            case TRIGGER -> "rows that are carried over may be changed by it, or change others";
            case INDEX -> "nothing; looking rows up by it is slow in the source";
            case RIGHT -> "may do this in the target alone";
        };
    }
}
