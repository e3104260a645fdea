/** What H2 does in its way. */
package dev.dusky.warehouses.h2;
