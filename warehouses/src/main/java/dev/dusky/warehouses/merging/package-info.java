/** Merges as statements of a database. */
package dev.dusky.warehouses.merging;
