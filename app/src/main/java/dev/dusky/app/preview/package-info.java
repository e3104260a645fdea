/** The use cases: peek at files and draft feeds. */
package dev.dusky.app.preview;
