/** The use cases: read the history and list files. */
package dev.dusky.app.journal;
