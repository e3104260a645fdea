/** Typed columns of a batch: the common result of text, JSON and columnar readers. */
package dev.dusky.core.vector;
