/** Warehouses whose tables are in object storage, in one transaction with a ledger elsewhere. */
package dev.dusky.lake;
