package sharptally.engines.sqlite;

import java.util.List;
import sharptally.core.shape.Declaration.Sort;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;

/** How SQLite is asked what it declares of a table; checks stand in the text of the statement that made it, and nowhere else. */
final class SqliteDeclarations {
    private static final String INDEX = """
            SELECT l.name, (SELECT group_concat(name, char(10)) FROM (
                     SELECT coalesce(i.name, 'an expression') AS name FROM pragma_index_info(l.name) i ORDER BY i.seqno)),
                   CASE WHEN l.partial THEN (SELECT substr(sql, instr(lower(sql), ' where ') + 1) FROM sqlite_schema
                                             WHERE name = l.name) ELSE '' END
            FROM pragma_index_list(?) l WHERE l.origin <> 'pk'
            """;

    static final List<DeclarationQuery> ALL = List.of(
            new DeclarationQuery(Sort.UNIQUE, INDEX + " AND l.\"unique\" ORDER BY 1", false),
            new DeclarationQuery(Sort.INDEX, INDEX + " AND NOT l.\"unique\" ORDER BY 1", false),
            new DeclarationQuery(
                    Sort.DEFAULT,
                    "SELECT '', name, dflt_value FROM pragma_table_info(?) WHERE dflt_value IS NOT NULL ORDER BY cid",
                    false),
            new DeclarationQuery(Sort.TRIGGER, """
                    SELECT name, '', CASE WHEN lower(sql) LIKE '%before%' THEN 'before ' WHEN lower(sql) LIKE '%instead of%'
                           THEN 'instead of ' ELSE 'after ' END || CASE WHEN lower(sql) LIKE '% insert on %' THEN 'insert'
                           WHEN lower(sql) LIKE '% delete on %' THEN 'delete' ELSE 'update' END
                    FROM sqlite_schema WHERE type = 'trigger' AND tbl_name = ? ORDER BY 1
                    """, false));

    private SqliteDeclarations() {}
}
