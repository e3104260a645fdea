/** What PostgreSQL does in its way. */
package dev.dusky.warehouses.postgres;
