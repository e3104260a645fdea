/** {@code dusky.yaml}: read with the lines of everything, checked as a whole, told all at once. */
package dev.dusky.cli.config;
