/** Records as bytes and offsets: the batch, the readers that fill it, and their hot loops. */
package dev.dusky.core.record;
