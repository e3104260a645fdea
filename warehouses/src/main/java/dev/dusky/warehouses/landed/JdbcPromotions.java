package dev.dusky.warehouses.landed;

import dev.dusky.core.bind.ColumnReading;
import dev.dusky.core.bind.Leftovers;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.Promoted;
import dev.dusky.core.load.TableGrower;
import dev.dusky.core.table.SqlNames;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeGuess;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.Promotions;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.ledger.LoadRows;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** Promotions whose entries are in a ledger in a database. */
public final class JdbcPromotions implements Promotions {

  /**
   * The leftovers of a row that has the field.
   *
   * @param value the field as JSON
   * @param rest the leftovers without it; null if nothing else is in them
   */
  private record Found(String value, String rest) {}

  private final Database database;
  private final Ledger ledger;
  private final Tables tables;
  private final LeftoverRows rows;

  /**
   * Promotions with a ledger in that database.
   *
   * @param rows the rows of the tables
   */
  public JdbcPromotions(Database database, Ledger ledger, Tables tables, LeftoverRows rows) {
    this.database = database;
    this.ledger = ledger;
    this.tables = tables;
    this.rows = rows;
  }

  @Override
  public Promoted promote(
      LoadStart start, Feed feed, String field, Optional<String> named, Optional<SqlType> wanted) {
    Handle own = database.connect();
    try {
      TypeGuess guess = new TypeGuess();
      scan(own, feed, field, found -> found.forEach(r -> guess.add(text(r), structure(r))));
      own.getConnection().rollback();
      Optional<FeedColumn> there =
          feed.columns().stream()
              .filter(c -> Leftovers.name(c).equalsIgnoreCase(field))
              .findFirst();
      FeedColumn column =
          there.orElseGet(
              () ->
                  FeedColumn.plain(
                      named.orElseGet(() -> free(feed, field)),
                      wanted.orElseGet(guess::type),
                      false));
      refuseSummed(feed, column);
      if (guess.count() == 0) {
        return new Promoted(0, column.name(), column.type(), 0);
      }
      check(own, feed, field, column);
      Feed grown = feed;
      String target = column.name();
      if (there.isEmpty()) {
        Growth.Result result = grow(own, start, feed, field, column);
        grown = result.feed();
        target = grown.columns().get(grown.columns().size() - 1).name();
      }
      return move(own, start, grown, field, column, target);
    } catch (SQLException | JdbiException e) {
      throw database.failed(
          own, "Promoting " + field + " in " + feed.into(), Database.sqlException(e));
    } finally {
      database.release(own);
    }
  }

  private static String free(Feed feed, String field) {
    String stem = SqlNames.of(field.replace("[*]", ""), 1);
    String name = stem;
    for (int n = 2; feed.column(name).isPresent(); n++) {
      name = stem + "_" + n;
    }
    return name;
  }

  private static void refuseSummed(Feed feed, FeedColumn column) {
    if (feed.policies().expectations().totals().contains(column.name())) {
      throw Failure.usage("Column " + column.name() + " is one of the feed's totals")
          .because("values that came to it afterwards would be in no file's sums")
          .hint("Load the files again instead: {}", Invocation.of("load", "--again", "PATH"));
    }
  }

  private Growth.Result grow(
      Handle own, LoadStart start, Feed feed, String field, FeedColumn column) throws SQLException {
    boolean json = feed.layout() instanceof JsonLayout;
    String path = !json ? field : field.startsWith("[") ? "$" + field : "$." + field;
    long load = LoadRows.insert(own, start.as(LoadKind.PROMOTE));
    LoadRows.end(own, load, LoadState.DONE, "column " + column.name() + " added");
    own.getConnection().commit();
    return new TableGrower(ledger, tables)
        .grow(
            feed,
            new Growth(
                List.of(new GrownColumn(column.name(), path, column.type())),
                List.of(Drift.of(field, Drift.Change.NEW, Drift.Action.EXTENDED, ""))),
            load);
  }

  /** Every value must be readable before anything is changed. */
  private void check(Handle own, Feed feed, String field, FeedColumn column) throws SQLException {
    ColumnReading reading = new ColumnReading(column);
    List<String> wrong = new ArrayList<>();
    scan(
        own,
        feed,
        field,
        found -> {
          List<Optional<String>> values = reading.read(texts(found, column));
          for (int i = 0; i < found.size(); i++) {
            if (values.get(i).isEmpty() && wrong.size() < 5) {
              wrong.add("'" + text(found.get(i)) + "'");
            }
          }
        });
    own.getConnection().rollback();
    if (!wrong.isEmpty()) {
      throw Failure.usage("Not every value of %s is %s".formatted(field, column.type()))
          .because("for example " + String.join(", ", wrong))
          .hint(
              feed.column(column.name()).isPresent()
                  ? "Nothing was changed. Make column "
                      + column.name()
                      + " wider, in table and feed"
                  : "Nothing was changed. Give another type with --type, such as --type text");
    }
  }

  private Promoted move(
      Handle own, LoadStart start, Feed feed, String field, FeedColumn column, String target)
      throws SQLException {
    long load = LoadRows.insert(own, start.as(LoadKind.PROMOTE));
    ColumnReading reading = new ColumnReading(column);
    long moved =
        rows.move(
            own,
            feed.into(),
            target,
            column.type(),
            leftovers -> moved(leftovers, field, column, reading));
    LoadRows.end(
        own,
        load,
        LoadState.DONE,
        "%s from the leftovers into column %s (%s): %,d rows"
            .formatted(field, target, column.type(), moved));
    own.getConnection().commit();
    return new Promoted(load, target, column.type(), moved);
  }

  /** What becomes of rows; nothing for those without the field. */
  private static List<Optional<LeftoverRows.Moved>> moved(
      List<String> leftovers, String field, FeedColumn column, ColumnReading reading) {
    List<Optional<Found>> found = leftovers.stream().map(json -> found(json, field)).toList();
    Iterator<Optional<String>> values =
        reading.read(texts(found.stream().flatMap(Optional::stream).toList(), column)).iterator();
    return found.stream()
        .map(row -> row.map(r -> new LeftoverRows.Moved(values.next().orElseThrow(), r.rest())))
        .toList();
  }

  private static List<String> texts(List<Found> rows, FeedColumn column) {
    boolean json = column.type().kind() == TypeKind.JSON;
    return rows.stream().map(row -> json ? row.value() : text(row)).toList();
  }

  private static JsonTree tree(String json) {
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    tree.read(bytes, 0, bytes.length);
    return tree;
  }

  private static String text(Found row) {
    return tree(row.value()).text(0);
  }

  private static boolean structure(Found row) {
    return tree(row.value()).isContainer(0);
  }

  /** Gives what all rows have whose leftovers have the field, some at a time. */
  private void scan(Handle own, Feed feed, String field, Consumer<List<Found>> taker)
      throws SQLException {
    rows.scan(
        own,
        feed.into(),
        leftovers ->
            taker.accept(leftovers.stream().flatMap(json -> found(json, field).stream()).toList()));
  }

  private static Optional<Found> found(String json, String field) {
    JsonTree tree = tree(json);
    int node = tree.member(0, field.getBytes(StandardCharsets.UTF_8));
    return node < 0
        ? Optional.empty()
        : Optional.of(new Found(part(tree, tree.start(node), tree.end(node)), without(tree, node)));
  }

  private static String part(JsonTree tree, int from, int to) {
    return new String(tree.bytes(), from, to - from, StandardCharsets.UTF_8);
  }

  /** The object without one of its members, each other one byte for byte; null if none is left. */
  private static String without(JsonTree tree, int gone) {
    StringBuilder rest = new StringBuilder();
    int last = tree.next(0);
    for (int node = 1; node < last; node = tree.next(node)) {
      if (node != gone) {
        rest.append(rest.isEmpty() ? "" : ",")
            .append('"')
            .append(part(tree, tree.keyStart(node), tree.keyEnd(node)))
            .append("\":")
            .append(part(tree, tree.start(node), tree.end(node)));
      }
    }
    return rest.isEmpty() ? null : "{" + rest + "}";
  }
}
