/** One class per command: it reads options, calls a use case and renders the result. */
package dev.dusky.cli.command;
