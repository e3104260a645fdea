/** The use case: stage local files. */
package dev.dusky.app.stage;
