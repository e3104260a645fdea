/**
 * Bringing landed rows into a target by key: what is declared, in which order it runs, its tally.
 */
package dev.dusky.core.merge;
