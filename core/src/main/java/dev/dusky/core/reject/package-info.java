/** Records that could not be loaded: what was wrong, where, and the raw bytes, kept exactly. */
package dev.dusky.core.reject;
