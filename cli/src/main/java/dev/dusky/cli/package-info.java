/** The command line: its entry point and what all commands share. */
package dev.dusky.cli;
