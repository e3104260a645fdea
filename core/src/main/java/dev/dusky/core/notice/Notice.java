package dev.dusky.core.notice;

/**
 * A message of a queue.
 *
 * @param id what names it, for people
 * @param receipt what the queue wants to hear when it is extended or deleted
 * @param body its text
 */
public record Notice(String id, String receipt, String body) {}
