/** Reads some records of a file without loading them. */
package dev.dusky.core.preview;
