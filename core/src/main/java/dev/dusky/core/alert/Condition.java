package dev.dusky.core.alert;

/**
 * Something that is so now and should not be.
 *
 * @param about the feed or merge
 * @param print a text that differs when the condition has changed enough for another message
 * @param words what it is, in a sentence
 * @param command the command that shows it or settles it
 */
public record Condition(AlertKind kind, String about, String print, String words, String command) {}
