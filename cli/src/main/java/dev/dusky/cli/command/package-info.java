/** One class a command, thin: it reads options, calls the core and renders. */
package dev.dusky.cli.command;
