/** Background worker threads. */
package dev.dusky.core.concurrent;
