/**
 * The core of Dusky Ledger, without command line, database driver or cloud library. The packages
 * follow a load: {@code layout}, {@code bytes}, {@code record}, {@code type}, {@code bind}, {@code
 * reject}, {@code tally}, {@code feed}, {@code depot}, {@code warehouse}, {@code ledger}, {@code
 * load}.
 */
package dev.dusky.core;
