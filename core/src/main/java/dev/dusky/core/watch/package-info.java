/** Feeds looked after as files arrive: what is due when, and who waits for a second try. */
package dev.dusky.core.watch;
