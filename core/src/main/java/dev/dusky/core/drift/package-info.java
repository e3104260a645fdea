/** Drift: files whose columns or types differ from their feed, and the actions taken. */
package dev.dusky.core.drift;
