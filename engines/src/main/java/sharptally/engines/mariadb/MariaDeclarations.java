package sharptally.engines.mariadb;

import java.util.List;
import sharptally.core.shape.Declaration.Sort;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;

/** How MariaDB and MySQL are asked what they declare of a table. */
final class MariaDeclarations {
    private static final String INDEX = """
            SELECT index_name, group_concat(column_name ORDER BY seq_in_index SEPARATOR '\\n'), ''
            FROM information_schema.statistics WHERE table_schema = ? AND table_name = ? AND index_name <> 'PRIMARY'
            """;

    static final List<DeclarationQuery> ALL = List.of(
            new DeclarationQuery(Sort.UNIQUE, INDEX + " AND non_unique = 0 GROUP BY index_name ORDER BY 1"),
            new DeclarationQuery(Sort.INDEX, INDEX + " AND non_unique = 1 GROUP BY index_name ORDER BY 1"),
            new DeclarationQuery(Sort.DEFAULT, """
                    SELECT '', column_name, column_default FROM information_schema.columns
                    WHERE table_schema = ? AND table_name = ? AND column_default IS NOT NULL AND column_default <> 'NULL'
                    ORDER BY ordinal_position
                    """),
            new DeclarationQuery(Sort.NUMBERING, """
                    SELECT '', column_name, '' FROM information_schema.columns
                    WHERE table_schema = ? AND table_name = ? AND extra LIKE '%auto_increment%'
                    """),
            new DeclarationQuery(Sort.TRIGGER, """
                    SELECT trigger_name, '', lower(concat(action_timing, ' ', event_manipulation))
                    FROM information_schema.triggers
                    WHERE event_object_schema = ? AND event_object_table = ? ORDER BY 1
                    """),
            new DeclarationQuery(Sort.RIGHT, """
                    SELECT replace(substring_index(grantee, '@', 1), char(39), ''), '',
                           lower(group_concat(DISTINCT privilege_type ORDER BY privilege_type SEPARATOR ', '))
                    FROM information_schema.table_privileges
                    WHERE table_schema = ? AND table_name = ? GROUP BY 1 ORDER BY 1
                    """));

    /** Only MariaDB tells to which table a check belongs. */
    static final DeclarationQuery CHECK = new DeclarationQuery(Sort.CHECK, """
            SELECT constraint_name, '', check_clause FROM information_schema.check_constraints
            WHERE constraint_schema = ? AND table_name = ? ORDER BY 1
            """);

    private MariaDeclarations() {}
}
