/** How the program was started and how it ends: the words of its commands, exit codes. */
package dev.dusky.cli.process;
