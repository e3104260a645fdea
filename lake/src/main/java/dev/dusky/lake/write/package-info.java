/** Typed columns into data files. */
package dev.dusky.lake.write;
