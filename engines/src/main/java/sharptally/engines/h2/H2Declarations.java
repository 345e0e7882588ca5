package sharptally.engines.h2;

import java.util.List;
import sharptally.core.shape.Declaration.Sort;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;

/** How H2 is asked what it declares of a table. */
final class H2Declarations {
    private static final String INDEX = """
            SELECT INDEX_NAME, LISTAGG(COLUMN_NAME, CHAR(10)) WITHIN GROUP (ORDER BY ORDINAL_POSITION), ''
            FROM INFORMATION_SCHEMA.INDEX_COLUMNS WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND INDEX_NAME IN (
              SELECT INDEX_NAME FROM INFORMATION_SCHEMA.INDEXES WHERE INDEX_TYPE_NAME LIKE '%s')
            GROUP BY INDEX_NAME ORDER BY 1
            """;

    static final List<DeclarationQuery> ALL = List.of(
            new DeclarationQuery(Sort.UNIQUE, INDEX.replace("%s", "UNIQUE%")),
            new DeclarationQuery(Sort.INDEX, INDEX.replace("%s", "INDEX%")),
            new DeclarationQuery(Sort.CHECK, """
                    SELECT T.CONSTRAINT_NAME, '', C.CHECK_CLAUSE FROM INFORMATION_SCHEMA.TABLE_CONSTRAINTS T
                    JOIN INFORMATION_SCHEMA.CHECK_CONSTRAINTS C
                      ON C.CONSTRAINT_SCHEMA = T.CONSTRAINT_SCHEMA AND C.CONSTRAINT_NAME = T.CONSTRAINT_NAME
                    WHERE T.TABLE_SCHEMA = ? AND T.TABLE_NAME = ? ORDER BY 1
                    """),
            new DeclarationQuery(Sort.DEFAULT, """
                    SELECT '', COLUMN_NAME, COLUMN_DEFAULT FROM INFORMATION_SCHEMA.COLUMNS
                    WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND COLUMN_DEFAULT IS NOT NULL AND IS_GENERATED <> 'ALWAYS'
                    ORDER BY ORDINAL_POSITION
                    """),
            new DeclarationQuery(Sort.NUMBERING, """
                    SELECT '', COLUMN_NAME, '' FROM INFORMATION_SCHEMA.COLUMNS
                    WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND IS_IDENTITY = 'YES'
                    """),
            new DeclarationQuery(Sort.TRIGGER, """
                    SELECT TRIGGER_NAME, '', LOWER(MIN(ACTION_TIMING)) || ' '
                           || LOWER(LISTAGG(EVENT_MANIPULATION, ' or ') WITHIN GROUP (ORDER BY EVENT_MANIPULATION))
                    FROM INFORMATION_SCHEMA.TRIGGERS
                    WHERE EVENT_OBJECT_SCHEMA = ? AND EVENT_OBJECT_TABLE = ? GROUP BY TRIGGER_NAME ORDER BY 1
                    """),
            new DeclarationQuery(Sort.RIGHT, """
                    SELECT GRANTEE, '', LOWER(LISTAGG(PRIVILEGE_TYPE, ', ') WITHIN GROUP (ORDER BY PRIVILEGE_TYPE))
                    FROM INFORMATION_SCHEMA.TABLE_PRIVILEGES
                    WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? GROUP BY GRANTEE ORDER BY 1
                    """));

    private H2Declarations() {}
}
