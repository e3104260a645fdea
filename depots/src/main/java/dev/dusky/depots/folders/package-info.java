/**
 * Stores that are folders of files: a walk in the order of paths, and depots that are only read.
 */
package dev.dusky.depots.folders;
