/** The use case: compare the ledger with tables, targets and depots. */
package dev.dusky.app.balance;
