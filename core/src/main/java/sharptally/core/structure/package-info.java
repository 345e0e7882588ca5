/** How tables of two databases are declared, beside their columns, and what that means for the data. */
package sharptally.core.structure;
