/** Feeds looked after: turns of loading and merging, notifications, metrics, health. */
package dev.dusky.cli.watch;
