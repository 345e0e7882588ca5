/** How jobs come by the databases that they work on: by an address, or by a driver's connections. */
@NullMarked
package sharptally.api.job.connect;

import org.jspecify.annotations.NullMarked;
