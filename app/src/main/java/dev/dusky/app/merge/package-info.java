/** The use case: run merges. */
package dev.dusky.app.merge;
