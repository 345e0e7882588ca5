/** Addresses, connections, and how safe they are. */
@NullMarked
package sharptally.engines.jdbc.connect;

import org.jspecify.annotations.NullMarked;
