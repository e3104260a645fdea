/** Asking questions with SQL. */
package dev.dusky.app.sql;
