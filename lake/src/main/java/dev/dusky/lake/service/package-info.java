/**
 * A catalog that is a service behind Iceberg's REST protocol. It cannot take part in the ledger's
 * transaction, so a change goes there just before the ledger commits, with an intent in the ledger
 * by which others can take it back.
 */
package dev.dusky.lake.service;
