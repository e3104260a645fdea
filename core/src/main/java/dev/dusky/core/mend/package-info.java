/** Mending: rejects are exported, read back, and loaded through the same reading. */
package dev.dusky.core.mend;
