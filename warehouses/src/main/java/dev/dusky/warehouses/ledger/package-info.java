/** The ledger in the schema dusky of a database. */
package dev.dusky.warehouses.ledger;
