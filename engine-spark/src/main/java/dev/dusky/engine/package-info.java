/** The engine: a process of ours that runs SQL over open-format tables, as requests ask for. */
package dev.dusky.engine;
