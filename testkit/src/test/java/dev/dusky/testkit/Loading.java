package dev.dusky.testkit;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.load.Selection;
import dev.dusky.core.tally.Tally;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/** A feed over a depot and a warehouse in memory, loaded as often as a test likes. */
final class Loading {

  /** How files are scheduled. */
  enum Mode {
    ONE_BY_ONE,
    TOGETHER,
    SIDE_BY_SIDE
  }

  final MemoryWarehouse warehouse = new MemoryWarehouse();
  final List<FileResult> results = new ArrayList<>();
  final List<String> remarks = new ArrayList<>();
  final MemoryDepot depot;
  final Feed feed;

  Loading(Feed feed, MemoryDepot depot, Mode mode) {
    this.feed = feed;
    this.depot = depot;
    if (mode != Mode.TOGETHER) {
      warehouse.ledger().oneByOne();
    }
    warehouse.tables().concurrency(mode == Mode.SIDE_BY_SIDE ? 3 : 1);
  }

  /** What is entered when a load of the feed begins. */
  static LoadStart start(Feed feed) {
    return new LoadStart(
        LoadKind.LOAD,
        feed.name(),
        feed.into().toString(),
        "declared",
        "tester",
        "here",
        "test",
        Instant.parse("2026-03-03T00:00:00Z"));
  }

  LoadResult run() {
    return run(run -> run);
  }

  LoadResult run(UnaryOperator<LoadRun> change) {
    LoadListener listener =
        new LoadListener() {
          @Override
          public void finished(FileResult result) {
            results.add(result);
          }

          @Override
          public void remark(String text) {
            remarks.add(text);
          }
        };
    LoadRun run = change.apply(LoadRun.of(feed, depot, listener, () -> false));
    return new FeedLoader(warehouse.ledger(), warehouse.tables(), run).run(start(feed));
  }

  /** Loads one file again on purpose. */
  LoadResult again(String path) {
    return run(
        run -> run.withSelection(Optional.of(Selection.again(depot.look(path).orElseThrow()))));
  }

  /** The state of each path's latest entry. */
  Map<String, FileState> states() {
    Map<String, FileState> states = new TreeMap<>();
    warehouse.ledger().files().forEach(file -> states.put(file.path(), file.state()));
    return states;
  }

  /** The rows in the table, each with its file's path, sorted. */
  List<String> rows() {
    Map<Long, String> paths =
        warehouse.ledger().files().stream()
            .collect(Collectors.toMap(MemoryFile::id, MemoryFile::path));
    return warehouse.tables().rows(feed.into()).stream()
        .map(row -> paths.get(row.file()) + ":" + row.record() + " " + row.values())
        .sorted()
        .toList();
  }

  /** What is wrong with the books: tallies against rows, and unfinished loads. */
  List<String> wrong() {
    List<String> wrong = new ArrayList<>();
    for (MemoryFile file : warehouse.ledger().files()) {
      long rows =
          warehouse.tables().rows(feed.into()).stream().filter(r -> r.file() == file.id()).count();
      Tally tally = file.tally();
      long booked = file.state() == FileState.POSTED ? tally.loaded() : 0;
      if (rows != booked) {
        wrong.add("%s has %d rows and %d in its tally".formatted(file.path(), rows, booked));
      }
      if (!tally.balanced()) {
        wrong.add(file.path() + " does not balance");
      }
    }
    if (warehouse.ledger().loads().containsValue(LoadState.RUNNING)) {
      wrong.add("a load is still running");
    }
    return wrong;
  }
}
