package dev.dusky.core.tables;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.TableShape;

/**
 * A feed and the landing table that its rows go into.
 *
 * @param feed the feed; each of its columns is a column of the table
 * @param table the table
 */
public record Landing(Feed feed, TableShape table) {}
