/** Keeping tables in object storage tidy. */
package dev.dusky.core.tidy;
