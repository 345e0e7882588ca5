package sharptally.core.sql;

/** How one engine wants its statements written, all parts of it. Immutable; safe to share between threads. */
public interface SqlDialect extends ChangeStatements, ScriptFrame, TypeNames {}
