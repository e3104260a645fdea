/**
 * A torture of the whole program: many processes over one database, killed and cut off at random,
 * and what is in the tables afterwards compared with what is known of the files.
 */
package dev.dusky.cli.torture;
