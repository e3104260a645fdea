/** The port to a warehouse: a ledger together with its tables. */
package dev.dusky.core.warehouse;
