/** The port to landing and target tables. */
package dev.dusky.core.tables;
