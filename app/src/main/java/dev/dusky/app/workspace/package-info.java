/** A configuration in use: its warehouse and depots, opened when needed. */
package dev.dusky.app.workspace;
