/** Cutting large local files into parts of a size that loads well, between records. */
package dev.dusky.core.split;
