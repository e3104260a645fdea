package dev.dusky.app.report;

/**
 * One matter that needs a person.
 *
 * @param about the feed or merge
 * @param fault whether something is wrong, and does not only wait
 * @param words what it is, in a sentence
 * @param command the command that shows it or settles it
 */
public record Need(String about, boolean fault, String words, String command) {}
