/**
 * A torture of the whole program: many processes over one database, killed and cut off at random,
 * and what is in the tables afterwards held against what is known of the files.
 */
package dev.dusky.cli.torture;
