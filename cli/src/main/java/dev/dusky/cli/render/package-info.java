/** Reports: figures, tables, the tally line, progress, colour, and JSON lines. */
package dev.dusky.cli.render;
