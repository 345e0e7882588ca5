/** Handing a comparison over to a cluster. */
@NullMarked
package sharptally.cli.cluster;

import org.jspecify.annotations.NullMarked;
