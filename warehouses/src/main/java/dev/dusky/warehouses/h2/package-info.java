/** The parts that are specific to H2. */
package dev.dusky.warehouses.h2;
