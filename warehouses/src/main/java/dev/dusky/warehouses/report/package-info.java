/** The ledger's figures over a period, by set-based queries. */
package dev.dusky.warehouses.report;
