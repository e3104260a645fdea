package dev.dusky.testkit;

import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.LoadMode;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.table.PartitionField;
import dev.dusky.core.table.SortField;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.type.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Builds feeds for tests; each builder makes one for its own table name. */
public final class FeedBuilder {

  private final String name;
  private final List<FeedColumn> columns = new ArrayList<>();
  private Layout layout = DelimitedLayout.plain("csv");
  private boolean create = true;
  private String tolerance = "0";
  private String files = "**";
  private Arrivals arrivals = Arrivals.DEFAULT;
  private DriftPolicy drift;
  private LoadMode mode = LoadMode.APPEND;
  private List<PartitionField> partition = List.of();
  private List<SortField> sort = List.of();
  private int cap = FeedPolicies.DEFAULT_REJECT_CAP;

  public FeedBuilder(String name) {
    this.name = name;
  }

  public FeedBuilder column(String column, String type) {
    boolean notNull = type.endsWith(" not null");
    columns.add(
        FeedColumn.plain(
            column, SqlType.parse(type.replace(" not null", "")).orElseThrow(), notNull));
    return this;
  }

  public FeedBuilder column(String column, SqlType type) {
    columns.add(FeedColumn.plain(column, type, false));
    return this;
  }

  /** Takes a column from that path. */
  public FeedBuilder from(String column, String path) {
    columns.replaceAll(c -> c.name().equals(column) ? c.withFrom(new FieldSource.Named(path)) : c);
    return this;
  }

  public FeedBuilder layout(Layout other) {
    layout = other;
    return this;
  }

  /** Fields between such delimiters, double quotes taken as they are but for an empty text. */
  public static Layout delimitedBy(String delimiter) {
    return delimitedBy(delimiter, HeaderUse.NAMES);
  }

  /** The same with another use of the header. */
  public static Layout delimitedBy(String delimiter, HeaderUse header) {
    DelimitedLayout plain = DelimitedLayout.plain("text");
    return new DelimitedLayout(
        plain.name(),
        delimiter,
        plain.quote(),
        plain.escape(),
        header,
        0,
        "",
        plain.nulls(),
        false,
        false,
        false,
        plain.shortRecords(),
        plain.longRecords(),
        plain.encoding(),
        plain.lineEnd(),
        plain.recordLimit(),
        plain.fieldLimit());
  }

  public FeedBuilder tolerance(String text) {
    tolerance = text;
    return this;
  }

  public FeedBuilder cap(int most) {
    cap = most;
    return this;
  }

  public FeedBuilder files(String pattern) {
    files = pattern;
    return this;
  }

  public FeedBuilder arrivals(Arrivals other) {
    arrivals = other;
    return this;
  }

  /** The same with a drift policy; a feed that captures gets its column of leftovers. */
  public FeedBuilder drift(DriftPolicy policy) {
    drift = policy;
    if (policy.captures()) {
      columns.add(
          FeedColumn.plain(DriftPolicy.LEFTOVERS, SqlType.parse("json").orElseThrow(), false)
              .withFrom(new FieldSource.Leftovers()));
    }
    return this;
  }

  /** The same whose loads replace the table, or slices by captures of the paths. */
  public FeedBuilder replacing(int atMost, String... by) {
    mode = new LoadMode.Replace(List.of(by), atMost);
    return this;
  }

  /** Divides a table in object storage. */
  public FeedBuilder partition(String... fields) {
    partition = Stream.of(fields).map(f -> PartitionField.parse(f).orElseThrow()).toList();
    return this;
  }

  /** Sorts the data files of a table in object storage. */
  public FeedBuilder sort(String... fields) {
    sort = Stream.of(fields).map(f -> SortField.parse(f).orElseThrow()).toList();
    return this;
  }

  public FeedBuilder existing() {
    create = false;
    return this;
  }

  public TableName table() {
    return new TableName("intake", name);
  }

  public Feed build() {
    FeedPolicies policies =
        FeedPolicies.DEFAULT
            .withTolerance(Tolerance.parse(tolerance).orElseThrow())
            .withRejectCap(cap)
            .withArrivals(arrivals)
            .withMode(mode)
            .withArrangement(new Arrangement(partition, sort));
    return new Feed(
        name,
        "yard",
        FilePattern.of(files),
        layout,
        table(),
        create,
        columns,
        java.util.Optional.empty(),
        List.of(),
        drift == null ? policies : policies.withDrift(drift));
  }
}
