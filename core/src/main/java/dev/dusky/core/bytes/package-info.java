/**
 * From a stored object's bytes to plain text bytes: decompression, guards, fingerprint, encoding.
 */
package dev.dusky.core.bytes;
