/** SQL types as types of the table format, and back. */
package dev.dusky.lake.type;
