/** Warehouses over JDBC, found by their address. */
package dev.dusky.warehouses;
