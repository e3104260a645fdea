/** Where each table's current metadata is: a row in the ledger's database, by Iceberg's catalog. */
package dev.dusky.lake.pointer;
