/**
 * SQL types and the strict reading of their values from text bytes. Nothing is rounded, truncated
 * or guessed; no time zone is assumed.
 */
package dev.dusky.core.type;
