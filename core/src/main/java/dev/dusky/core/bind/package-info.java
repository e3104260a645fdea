/** From fields to typed columns: records of bytes are bound to a feed's columns, batch by batch. */
package dev.dusky.core.bind;
