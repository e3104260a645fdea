/** Merges of landed rows into a target by key: declaration, order and tally. */
package dev.dusky.core.merge;
