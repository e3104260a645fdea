/**
 * Rows that occur again: told by a print of their values, looked up in memory, or, where that is
 * not enough, on disk by partition.
 */
package dev.dusky.core.repeat;
