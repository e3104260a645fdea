/** Files whose columns or types differ from their feed's, and what is done about it. */
package dev.dusky.core.drift;
