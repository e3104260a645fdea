/** The live board of watched feeds: its state, its text, and the terminal that shows it. */
package dev.dusky.cli.board;
