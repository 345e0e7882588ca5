package sharptally.engines.postgresql;

import java.util.List;
import sharptally.core.shape.Declaration.Sort;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;

/** How PostgreSQL is asked what it declares of a table. */
final class PgDeclarations {
    private static final String OF =
            " JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relname = ?";

    private static final String INDEX = """
            SELECT i.relname,
                   (SELECT string_agg(coalesce(a.attname, pg_get_indexdef(x.indexrelid, k.place::int, true)), E'\\n' ORDER BY k.place)
                    FROM unnest(x.indkey) WITH ORDINALITY AS k (att, place)
                    LEFT JOIN pg_attribute a ON a.attrelid = x.indrelid AND a.attnum = k.att AND k.att > 0
                    WHERE k.place <= x.indnkeyatts),
                   coalesce('where ' || pg_get_expr(x.indpred, x.indrelid), '')
            FROM pg_index x JOIN pg_class i ON i.oid = x.indexrelid JOIN pg_class c ON c.oid = x.indrelid
            """;

    static final List<DeclarationQuery> ALL = List.of(
            new DeclarationQuery(Sort.UNIQUE, INDEX + OF + " AND x.indisunique AND NOT x.indisprimary ORDER BY 1"),
            new DeclarationQuery(Sort.INDEX, INDEX + OF + " AND NOT x.indisunique ORDER BY 1"),
            new DeclarationQuery(Sort.CHECK, """
                    SELECT k.conname,
                           (SELECT string_agg(a.attname, E'\\n' ORDER BY a.attname) FROM pg_attribute a
                            WHERE a.attrelid = k.conrelid AND a.attnum = ANY (k.conkey)),
                           pg_get_expr(k.conbin, k.conrelid)
                    FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid
                    """ + OF + " AND k.contype = 'c' ORDER BY 1"),
            new DeclarationQuery(
                    Sort.DEFAULT,
                    """
                    SELECT '', a.attname, pg_get_expr(d.adbin, d.adrelid)
                    FROM pg_attrdef d JOIN pg_attribute a ON a.attrelid = d.adrelid AND a.attnum = d.adnum
                    JOIN pg_class c ON c.oid = d.adrelid
                    """ + OF + " AND pg_get_expr(d.adbin, d.adrelid) NOT LIKE 'nextval(%'"
                            + " AND to_jsonb(a) ->> 'attgenerated' IS DISTINCT FROM 's' ORDER BY a.attnum"),
            new DeclarationQuery(
                    Sort.NUMBERING,
                    """
                    SELECT '', a.attname, ''
                    FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid
                    LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum
                    """ + OF + " AND (a.attidentity <> '' OR pg_get_expr(d.adbin, d.adrelid) LIKE 'nextval(%')"
                            + " ORDER BY a.attnum"),
            new DeclarationQuery(Sort.TRIGGER, """
                    SELECT trigger_name, '', lower(min(action_timing)) || ' '
                           || lower(string_agg(event_manipulation, ' or ' ORDER BY event_manipulation))
                    FROM information_schema.triggers
                    WHERE event_object_schema = ? AND event_object_table = ? GROUP BY trigger_name ORDER BY 1
                    """),
            new DeclarationQuery(Sort.RIGHT, """
                    SELECT g.grantee, '', lower(string_agg(g.privilege_type, ', ' ORDER BY g.privilege_type))
                    FROM information_schema.role_table_grants g
                    JOIN pg_tables t ON t.schemaname = g.table_schema AND t.tablename = g.table_name
                    WHERE g.table_schema = ? AND g.table_name = ? AND g.grantee <> t.tableowner
                    GROUP BY g.grantee ORDER BY 1
                    """));

    private PgDeclarations() {}
}
