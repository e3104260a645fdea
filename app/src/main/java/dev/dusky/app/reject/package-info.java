/** The use cases around rejects: review, mend, reverse. */
package dev.dusky.app.reject;
