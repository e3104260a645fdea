package dev.dusky.core.load;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.FeedColumns;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.type.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Adds columns to a landing table and widens types, and enters it in the ledger. Loads that want it
 * at the same time take turns; the later one finds what the earlier one did.
 */
public final class TableGrower {

  private final LoadLedger ledger;
  private final Tables tables;

  /** A grower over that ledger and those tables. */
  public TableGrower(LoadLedger ledger, Tables tables) {
    this.ledger = ledger;
    this.tables = tables;
  }

  /**
   * Changes the table.
   *
   * @throws dev.dusky.core.failure.Failure of kind FILE if the table cannot grow that way
   */
  public Growth.Result grow(Feed feed, Growth growth, long loadId) {
    List<Drift> done =
        ledger.changeColumns(
            feed.name(),
            columns -> {
              List<Drift> drifts = new ArrayList<>();
              for (int i = 0; i < growth.columns().size(); i++) {
                drifts.add(
                    grow(columns, feed, growth.columns().get(i), growth.drifts().get(i), loadId));
              }
              return drifts;
            });
    TableShape table = tables.shape(feed.into()).orElseThrow();
    return new Growth.Result(feed.grown(ledger.grown(feed.name())), table, done);
  }

  private Drift grow(FeedColumns columns, Feed feed, GrownColumn wanted, Drift why, long loadId) {
    TableShape table = tables.shape(feed.into()).orElseThrow();
    Optional<GrownColumn> known =
        columns.known().stream().filter(c -> c.field().equals(wanted.field())).findFirst();
    boolean widens = why.change() == Drift.Change.TYPE;
    if (!widens && known.isPresent()) {
      return why.in(why.records()).as(Drift.Action.EXTENDED); // another load was faster
    }
    GrownColumn column = widens ? wanted : free(feed, table, wanted);
    Optional<TableColumn> existing = table.column(column.name());
    boolean holds =
        existing.flatMap(TableColumn::type).map(t -> t.holds(column.type())).orElse(false);
    Optional<String> statement = Optional.empty();
    if (!holds) {
      statement =
          Optional.of(
              existing.isPresent()
                  ? tables.widenColumn(columns.transaction(), feed.into(), column)
                  : tables.addColumn(columns.transaction(), feed.into(), column));
    }
    columns.note(column, loadId);
    return new Drift(
        why.field(),
        why.change(),
        why.seen(),
        why.action(),
        why.records(),
        why.example(),
        statement,
        "column %s is %s now; declare it in the feed".formatted(column.name(), column.type()));
  }

  /** The column under a name that the table does not use for something else. */
  private static GrownColumn free(Feed feed, TableShape table, GrownColumn wanted) {
    String name = wanted.name();
    for (int n = 2; !usable(feed, table, name, wanted.type()); n++) {
      name = wanted.name() + "_" + n;
    }
    return new GrownColumn(name, wanted.field(), wanted.type());
  }

  private static boolean usable(Feed feed, TableShape table, String name, SqlType type) {
    if (feed.column(name).isPresent()) {
      return false;
    }
    Optional<TableColumn> existing = table.column(name);
    return existing.isEmpty()
        || !existing.get().notNull() && existing.get().type().map(t -> t.holds(type)).orElse(false);
  }
}
