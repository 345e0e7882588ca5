/** What a catalogue tells of tables, as shapes. */
@NullMarked
package sharptally.engines.jdbc.catalogue;

import org.jspecify.annotations.NullMarked;
