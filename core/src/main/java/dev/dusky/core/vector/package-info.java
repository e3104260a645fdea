/** Typed columns of a batch: the one form in which text, JSON and columnar readers meet. */
package dev.dusky.core.vector;
