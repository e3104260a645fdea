/** Loads rehearsed: a ledger and tables of which nothing stays. */
package dev.dusky.core.rehearse;
