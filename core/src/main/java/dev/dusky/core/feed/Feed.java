package dev.dusky.core.feed;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tolerance;
import java.util.ArrayList;
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
 * @param extras fields of one file that the feed does not know, taken as text
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
    FeedPolicies policies,
    List<FeedColumn> extras) {

  public Feed {
    columns = List.copyOf(columns);
    ignore = List.copyOf(ignore);
    extras = List.copyOf(extras);
  }

  /** A feed as it is declared. */
  public Feed(
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
    this(name, depot, files, layout, into, create, columns, where, ignore, policies, List.of());
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
    return new Feed(
        name, depot, files, layout, into, create, columns, other, ignore, policies, extras);
  }

  /** The same feed reading its files with another layout. */
  public Feed withLayout(Layout other) {
    return new Feed(
        name, depot, files, other, into, create, columns, where, ignore, policies, extras);
  }

  /** The same feed with other policies. */
  public Feed withPolicies(FeedPolicies other) {
    return new Feed(
        name, depot, files, layout, into, create, columns, where, ignore, other, extras);
  }

  /** The same feed with other columns. */
  public Feed withColumns(List<FeedColumn> other) {
    return new Feed(
        name, depot, files, layout, into, create, other, where, ignore, policies, extras);
  }

  /** The same feed taking some more fields of a file as text. */
  public Feed withExtras(List<FeedColumn> other) {
    return new Feed(
        name, depot, files, layout, into, create, columns, where, ignore, policies, other);
  }

  /** The same feed with columns that came to it, or became wider, while it was loaded. */
  public Feed grown(List<GrownColumn> grown) {
    List<FeedColumn> all = new ArrayList<>(columns);
    for (GrownColumn column : grown) {
      int at = 0;
      while (at < all.size() && !all.get(at).name().equals(column.name())) {
        at++;
      }
      if (at < all.size()) {
        if (column.type().holds(all.get(at).type())) {
          all.set(at, all.get(at).withType(column.type()));
        }
      } else if (all.stream().noneMatch(c -> c.fieldName().equals(column.field()))) {
        all.add(
            FeedColumn.plain(column.name(), column.type(), false)
                .withFrom(new FieldSource.Named(column.field())));
      }
    }
    return withColumns(all);
  }
}
