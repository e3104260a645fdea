/** Finds what alerts are about, enters it in the ledger, and sends the messages. */
package dev.dusky.app.alert;
