/** The parts that are specific to PostgreSQL. */
package dev.dusky.warehouses.postgres;
