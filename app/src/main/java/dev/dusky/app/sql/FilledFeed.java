package dev.dusky.app.sql;

import dev.dusky.core.tally.Tally;
import java.util.List;

/**
 * How a feed's table was filled from staged files.
 *
 * @param feed the feed
 * @param files how many files are in the table
 * @param tally the sum over them
 * @param refused the files that could not be read, with the reason
 * @param cut whether there are more rows than were read
 */
public record FilledFeed(String feed, int files, Tally tally, List<String> refused, boolean cut) {}
