/** Alerts and their messages in the ledger. */
package dev.dusky.warehouses.alert;
