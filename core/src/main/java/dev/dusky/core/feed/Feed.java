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
 * @param columns the columns, in table order
 * @param where the condition on the rows that are taken; the others count as filtered
 * @param ignore names or positions of fields that are left out on purpose
 * @param policies what it does about rejects, limits and control totals
 */
public record Feed(
    String name,
    String depot,
    FilePattern files,
    Layout layout,
    TableName into,
    boolean create,
    List<FeedColumn> columns,
    Optional<Formula> where,
    List<String> ignore,
    FeedPolicies policies) {

  public Feed {
    columns = List.copyOf(columns);
    ignore = List.copyOf(ignore);
  }

  /** How many rejects a file may have and still be posted. */
  public Tolerance tolerance() {
    return policies.tolerance();
  }

  /** How many rejects of one file are kept in the ledger. */
  public int rejectCap() {
    return policies.rejectCap();
  }

  /** Bounds on decompression. */
  public ContentLimits limits() {
    return policies.limits();
  }

  /** The column with this name. */
  public Optional<FeedColumn> column(String columnName) {
    return columns.stream().filter(c -> c.name().equals(columnName)).findFirst();
  }

  /** The same feed taking other rows. */
  public Feed withWhere(Optional<Formula> other) {
    return new Feed(name, depot, files, layout, into, create, columns, other, ignore, policies);
  }

  /** The same feed reading its files with another layout. */
  public Feed withLayout(Layout other) {
    return new Feed(name, depot, files, other, into, create, columns, where, ignore, policies);
  }

  /** The same feed with other policies. */
  public Feed withPolicies(FeedPolicies other) {
    return new Feed(name, depot, files, layout, into, create, columns, where, ignore, other);
  }
}
