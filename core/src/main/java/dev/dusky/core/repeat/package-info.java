/**
 * Rows that occur again: detected by a hash of their values, looked up in memory, or, where that is
 * not enough, on disk by partition.
 */
package dev.dusky.core.repeat;
