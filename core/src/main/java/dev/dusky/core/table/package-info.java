/** Names, columns and rules of tables. Plain data without a connection. */
package dev.dusky.core.table;
