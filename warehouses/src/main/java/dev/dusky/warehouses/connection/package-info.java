/** Connections, failures and dialects of databases. */
package dev.dusky.warehouses.connection;
