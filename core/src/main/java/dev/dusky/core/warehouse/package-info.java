/** The port to a warehouse: its tables and how rows get into them. */
package dev.dusky.core.warehouse;
