package dev.dusky.core.load;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.TableFit;
import dev.dusky.core.tables.Tables;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A feed and its landing table during a load, in which files may add columns to both. */
final class GrowingFeed {

  private final LoadLedger ledger;
  private final Tables tables;
  private final Feed declared;
  private Landing landing;
  private List<GrownColumn> grown;

  private GrowingFeed(LoadLedger ledger, Tables tables, Feed declared) {
    this.ledger = ledger;
    this.tables = tables;
    this.declared = declared;
  }

  /**
   * Finds or creates the landing table and checks that it fits.
   *
   * @throws Failure of kind WAREHOUSE if it does not exist or does not fit
   */
  static GrowingFeed open(LoadLedger ledger, Tables tables, Feed declared) {
    GrowingFeed growing = new GrowingFeed(ledger, tables, declared);
    Feed feed = declared.grown(ledger.grown(declared.name()));
    growing.landing = new Landing(feed, growing.table(feed));
    growing.grown = growing.added();
    return growing;
  }

  /** The feed with the columns that were added to it. */
  Feed feed() {
    return landing.feed();
  }

  /** Feed and table as they are now. */
  Landing landing() {
    return landing;
  }

  /** The columns that files added to the feed. */
  List<GrownColumn> grown() {
    return grown;
  }

  /** All columns that files added to the feed or made wider. */
  List<GrownColumn> allGrown() {
    return ledger.grown(declared.name());
  }

  /**
   * Makes the table grow for a file.
   *
   * @param noted what else was found of the file
   * @return all that is known of the file's drift now
   */
  List<Drift> grow(Growth growth, List<Drift> noted, long loadId) {
    Growth.Result result = new TableGrower(ledger, tables).grow(feed(), growth, loadId);
    landing = new Landing(result.feed(), result.table());
    grown = added();
    List<Drift> drifts = new ArrayList<>(noted);
    drifts.addAll(result.drifts());
    return drifts;
  }

  private List<GrownColumn> added() {
    return ledger.grown(declared.name()).stream()
        .filter(column -> declared.column(column.name()).isEmpty())
        .toList();
  }

  private TableShape table(Feed feed) {
    Optional<TableShape> existing = tables.shape(feed.into());
    if (existing.isEmpty() && feed.create()) {
      tables.create(feed);
      existing = tables.shape(feed.into());
    }
    TableShape table =
        existing.orElseThrow(
            () ->
                Failure.warehouse(
                        "Table %s of feed %s does not exist".formatted(feed.into(), feed.name()))
                    .hint(
                        "Set create: true in the feed, or make it with:\n"
                            + tables.createStatement(feed.into(), feed.columns())));
    List<String> problems = TableFit.problems(feed, table);
    if (!problems.isEmpty()) {
      throw Failure.warehouse("Table %s does not fit feed %s".formatted(feed.into(), feed.name()))
          .because(String.join("; ", problems))
          .hint("Change the table or the feed's columns; no file was read");
    }
    return table;
  }
}
