/** Watching: which feed is due when, and which waits for a retry. */
package dev.dusky.core.watch;
