/** Operational databases that sources read from, over JDBC. */
package dev.dusky.warehouses.source;
