/** The declared flow of a depot's files into a landing table, with its policies. */
package dev.dusky.core.feed;
