/** The checks that are the same for every store, and the causes of connections that fail. */
package dev.dusky.depots.probe;
