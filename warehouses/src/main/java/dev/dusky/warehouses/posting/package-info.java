/** Landing tables: their shape, and how rows get in and out. */
package dev.dusky.warehouses.posting;
