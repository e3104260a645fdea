/** A configuration at work: its warehouse and depots, opened as they are needed. */
package dev.dusky.app.workspace;
