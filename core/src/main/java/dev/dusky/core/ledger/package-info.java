/** The port to the ledger: claims, entries and queries. */
package dev.dusky.core.ledger;
