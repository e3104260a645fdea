/** The port to object storage: what is staged, and its bytes. */
package dev.dusky.core.depot;
