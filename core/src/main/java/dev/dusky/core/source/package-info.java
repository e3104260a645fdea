/** Bringing the rows of a query on an operational database into files of a depot. */
package dev.dusky.core.source;
