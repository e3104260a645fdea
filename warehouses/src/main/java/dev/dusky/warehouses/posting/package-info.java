/** Landing tables: their shape, and how rows are written and removed. */
package dev.dusky.warehouses.posting;
