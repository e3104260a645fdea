/**
 * One run of a feed over its waiting files: claim, read, bind, write and post each, in the order of
 * their names.
 */
package dev.dusky.core.load;
