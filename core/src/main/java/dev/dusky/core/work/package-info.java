/** Threads that work beside the one that waits for their results. */
package dev.dusky.core.work;
