/**
 * The warehouses: what PostgreSQL and H2 share over JDBC, what each does in its own way, and the
 * ledger's tables and queries.
 */
package dev.dusky.warehouses;
