/** Comparisons of the ledger with the tables. */
package dev.dusky.warehouses.proofs;
