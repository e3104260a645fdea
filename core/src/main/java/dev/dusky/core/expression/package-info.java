/**
 * The scalar subset of SQL: expressions that derive, check and choose rows. Read into {@link
 * dev.dusky.core.expression.Syntax}, typed and compiled once into {@link
 * dev.dusky.core.expression.Step}s, evaluated row by row on the columns of a batch without making
 * objects in the common cases. Results are those of PostgreSQL 18 in the time zone UTC and the
 * collation C.UTF-8.
 */
package dev.dusky.core.expression;
