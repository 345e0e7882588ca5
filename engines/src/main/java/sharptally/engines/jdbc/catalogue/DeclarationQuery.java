package sharptally.engines.jdbc.catalogue;

import sharptally.core.shape.Declaration;

/**
 * How a catalogue is asked for one sort of what it declares of a table.
 *
 * @param sql gives name, columns joined by line feeds, and text; with the schema and the table's name to be bound, in this
 *     order, or the name alone
 * @param bindsSchema whether the schema is bound
 */
public record DeclarationQuery(Declaration.Sort sort, String sql, boolean bindsSchema) {
    /** With schema and name to be bound. */
    public DeclarationQuery(Declaration.Sort sort, String sql) {
        this(sort, sql, true);
    }
}
