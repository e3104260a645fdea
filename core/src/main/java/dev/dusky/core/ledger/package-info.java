/** The port to the ledger, and the states of loads and files with their transitions. */
package dev.dusky.core.ledger;
