package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.rehearse.RejectTaker;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** A warehouse for each test, and what tests do with it. */
abstract class WarehouseTesting {

  Warehouse warehouse;

  /** A database that no other test class uses. */
  abstract DatabaseSettings address() throws Exception;

  @BeforeEach
  void open() throws Exception {
    warehouse = opened();
    warehouse.ledger().prepare();
  }

  @AfterEach
  void close() {
    warehouse.close();
  }

  /** How many files: fewer where each commit is slower than in a database. */
  final int files(int usual) {
    return ruled() ? usual : usual > 50 ? usual / 6 : usual / 2;
  }

  /** Whether tables have rules of which they judge rows: keys, references, checks. */
  boolean ruled() {
    return true;
  }

  /** Leaves a test out whose rejects come from a table's rules. */
  final void needsRules() {
    assumeTrue(ruled(), "such tables have no rules but not null");
  }

  /** Opens the warehouse; a test may open it in another way. */
  Warehouse opened() throws Exception {
    return Warehouses.open(address());
  }

  final Warehouse warehouse() {
    return warehouse;
  }

  static LoadStart start(Feed feed) {
    return new LoadStart(
        LoadKind.LOAD,
        feed.name(),
        feed.into().toString(),
        "declared",
        "tester",
        "here",
        "test",
        java.time.Instant.now());
  }

  final LoadResult load(Feed feed, Depot depot) {
    return load(warehouse, feed, depot, new ArrayList<>());
  }

  static LoadResult load(Warehouse target, Feed feed, Depot depot, List<FileResult> results) {
    LoadListener listener =
        new LoadListener() {
          @Override
          public void finished(FileResult result) {
            results.add(result);
          }
        };
    return new FeedLoader(
            target.ledger(), target.tables(), LoadRun.of(feed, depot, listener, () -> false))
        .run(start(feed));
  }

  /** A loader that rehearses. */
  static FeedLoader rehearsing(Warehouse target, RejectTaker taker, LoadRun run) {
    Rehearsal rehearsal = new Rehearsal(target.ledger(), target.tables(), false);
    return new FeedLoader(rehearsal.ledger(taker), rehearsal.tables(), run);
  }

  /** Runs a merge and returns the results of its transactions. */
  static List<MergeResult> merging(
      Warehouse target, Merge merge, MergeStart start, Consumer<String> waiting) {
    List<MergeResult> results = new ArrayList<>();
    target.merges().run(merge, start, waiting, results::add);
    return results;
  }

  /** The open rejects of a feed. */
  final List<StoredReject> rejects(String feed) {
    return warehouse.ledger().rejects().list(RejectChoice.open(Optional.of(feed)), 1000);
  }

  final List<List<Object>> query(String sql) {
    List<List<Object>> rows = new ArrayList<>();
    warehouse.run(
        sql,
        new ResultTaker() {
          @Override
          public void columns(List<String> names, List<Boolean> numeric) {}

          @Override
          public void row(List<Object> values) {
            rows.add(values);
          }

          @Override
          public void changed(long count) {}
        });
    return rows;
  }

  final long count(String table) {
    return ((Number) query("select count(*) from " + table).get(0).get(0)).longValue();
  }

  /** Runs a statement that has no result. */
  final void execute(String sql) {
    assertEquals(List.of(), query(sql));
  }
}
