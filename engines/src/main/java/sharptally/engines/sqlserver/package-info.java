/** SQL Server. Written from its documentation, and parsed: no server of it was at hand. */
@org.jspecify.annotations.NullMarked
package sharptally.engines.sqlserver;
