/** Tidies the tables of a warehouse. */
package dev.dusky.app.tidy;
