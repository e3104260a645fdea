/**
 * Infers from a sample of files how to read them: compression, encoding, kind, delimiter, columns
 * with names and types. Each decision has its evidence.
 */
package dev.dusky.core.draft;
