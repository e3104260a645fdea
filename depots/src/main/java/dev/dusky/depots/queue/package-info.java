/** Queues of notices, through the vendor's client. */
package dev.dusky.depots.queue;
