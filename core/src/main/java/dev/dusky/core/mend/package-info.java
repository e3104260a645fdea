/** Rejects repaired: written out for repair, read back, and loaded through the same reading. */
package dev.dusky.core.mend;
