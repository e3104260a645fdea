/** The counts that must balance, and how many rejects a feed tolerates. */
package dev.dusky.core.tally;
