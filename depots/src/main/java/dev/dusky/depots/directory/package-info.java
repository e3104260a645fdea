/** A directory as a depot. */
package dev.dusky.depots.directory;
