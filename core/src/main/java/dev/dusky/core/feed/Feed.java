package dev.dusky.core.feed;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.TableName;
import java.util.List;
import java.util.Optional;

/**
 * The declared flow of a depot's matching files, in a layout, into one landing table.
 *
 * @param name the feed's name
 * @param depot the name of the depot
 * @param files the pattern of its files' paths
 * @param layout how their bytes become records
 * @param into the landing table
 * @param create whether the table is made when it does not exist
 * @param tolerance how many rejects a file may have and still be posted
 * @param columns the columns, in table order
 * @param where the condition on the rows that are taken; the others count as filtered
 * @param ignore names or positions of fields that are left out on purpose
 * @param rejectCap how many rejects of one file are kept in the ledger; the rest is only counted
 * @param limits bounds on decompression
 */
public record Feed(
    String name,
    String depot,
    FilePattern files,
    Layout layout,
    TableName into,
    boolean create,
    Tolerance tolerance,
    List<FeedColumn> columns,
    Optional<Formula> where,
    List<String> ignore,
    int rejectCap,
    ContentLimits limits) {

  /** The default for {@link #rejectCap}. */
  public static final int DEFAULT_REJECT_CAP = 10_000;

  public Feed {
    columns = List.copyOf(columns);
    ignore = List.copyOf(ignore);
  }

  /** The same feed taking other rows. */
  public Feed withWhere(Optional<Formula> other) {
    return new Feed(
        name, depot, files, layout, into, create, tolerance, columns, other, ignore, rejectCap,
        limits);
  }

  /** The same feed reading its files with another layout. */
  public Feed withLayout(Layout other) {
    return new Feed(
        name, depot, files, other, into, create, tolerance, columns, where, ignore, rejectCap,
        limits);
  }

  /** The same feed with another cap on the rejects that are kept in full. */
  public Feed withRejectCap(int other) {
    return new Feed(
        name, depot, files, layout, into, create, tolerance, columns, where, ignore, other, limits);
  }
}
