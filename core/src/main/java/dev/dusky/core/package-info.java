/**
 * The job of Dusky Ledger, free of any command line, database driver or cloud library. The packages
 * are the story of a load: {@code layout}, {@code bytes}, {@code record}, {@code type}, {@code
 * bind}, {@code reject}, {@code tally}, {@code feed}, {@code depot}, {@code warehouse}, {@code
 * ledger}, {@code load}.
 */
package dev.dusky.core;
