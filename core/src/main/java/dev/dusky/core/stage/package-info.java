/** Putting local files into a depot, several at a time. */
package dev.dusky.core.stage;
