/**
 * Looking at a sample of files and working out how to read them: compression, encoding, kind,
 * delimiter and all the rest, columns with names and types. Each decision carries its evidence.
 */
package dev.dusky.core.draft;
