/** Rehearsals: a ledger and tables whose changes are rolled back. */
package dev.dusky.core.rehearse;
