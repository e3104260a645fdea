package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.BrokenBarrierException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Files of one feed are written side by side and come out as if one had followed the other. */
class PostgresFilesAtOnceTest extends WarehouseTesting {

  /** Blank lines that make a file too large to be one of a group. */
  private static final String WIDE = "\n".repeat(300_000);

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }

  private static Feed feed(String name) {
    return new FeedBuilder(name).column("no", "bigint not null").build();
  }

  /** Waits for something that another thread does; that it never comes is the test's failure. */
  private static void await(CountDownLatch latch) {
    try {
      if (!latch.await(30, TimeUnit.SECONDS)) {
        throw new AssertionError("the other file is not read at the same time");
      }
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  private static void meet(CyclicBarrier barrier) {
    try {
      barrier.await(30, TimeUnit.SECONDS);
    } catch (InterruptedException | BrokenBarrierException | TimeoutException e) {
      throw new AssertionError("the files are not read at the same time", e);
    }
  }

  /** The first file's reading ends after that of {@code b.csv}, with this. */
  private static void firstEndsBehindSecond(MemoryDepot depot, Runnable then) {
    CountDownLatch secondRead = new CountDownLatch(1);
    depot.atEnd(
        path -> {
          if (path.equals("b.csv")) {
            secondRead.countDown();
          } else {
            await(secondRead);
            then.run();
          }
        });
  }

  private static List<String> told(List<FileResult> results) {
    return results.stream()
        .map(result -> result.file().path() + " " + result.state().label())
        .toList();
  }

  @Test
  void asManyFilesAsThereAreConnectionsAreWrittenSideBySideAndToldInTheirOrder() {
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 8; i++) {
      depot.with(i + ".csv", "no\n" + i + (i == 2 ? "x" : "") + "\n" + WIDE);
    }
    CyclicBarrier four = new CyclicBarrier(4);
    depot.atEnd(path -> meet(four));
    List<FileResult> results = new ArrayList<>();
    LoadResult result = load(warehouse, feed("four"), depot, results);
    assertEquals(7, result.count(FileState.POSTED));
    assertEquals(Tally.posted(7, 7, 0, 0), result.tally());
    List<String> expected = new ArrayList<>();
    for (int i = 0; i < 8; i++) {
      expected.add(i + ".csv " + (i == 2 ? "refused" : "posted"));
    }
    assertEquals(expected, told(results));
    assertEquals(
        List.of(), warehouse.proofs().feed("four", feed("four").into(), List.of()).differences());
  }

  @Test
  void ofTwinsTheFirstByNameIsPostedHoweverLateItIsRead() {
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no\n1\n" + WIDE).with("b.csv", "no\n1\n" + WIDE);
    firstEndsBehindSecond(depot, () -> {});
    List<FileResult> results = new ArrayList<>();
    load(warehouse, feed("twins"), depot, results);
    assertEquals(List.of("a.csv posted", "b.csv twin"), told(results));
  }

  @Test
  void whereOneFileFailsNoneBehindItIsPosted() {
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no\n1\n" + WIDE).with("b.csv", "no\n2\n" + WIDE);
    firstEndsBehindSecond(
        depot,
        () -> {
          throw Failure.depot("the line is dead");
        });
    List<FileResult> results = new ArrayList<>();
    Failure failure =
        assertThrows(Failure.class, () -> load(warehouse, feed("stops"), depot, results));
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertEquals(List.of(), results);
    assertEquals(0, count("intake.stops"));
    depot.atEnd(path -> {});
    load(warehouse, feed("stops"), depot, results);
    assertEquals(List.of("a.csv posted", "b.csv posted"), told(results));
  }

  @Test
  void aTransactionThatWaitsForItsTurnIsNotEndedByTheServer() {
    query("alter role postgres set idle_in_transaction_session_timeout = '5min'");
    try (JdbcWarehouse other = (JdbcWarehouse) Warehouses.open(database)) {
      String told =
          other
              .database()
              .transact(
                  "Asking",
                  connection -> {
                    try (Statement statement = connection.getConnection().createStatement();
                        ResultSet row =
                            statement.executeQuery("show idle_in_transaction_session_timeout")) {
                      row.next();
                      return row.getString(1);
                    }
                  });
      assertEquals("0", told);
    } finally {
      query("alter role postgres reset idle_in_transaction_session_timeout");
    }
  }

  @Test
  void aTableByWhichTransactionsWaitForEachOtherIsWrittenByOne() {
    Feed feed = feed("keyed");
    warehouse.tables().create(feed.into(), feed.columns());
    query("alter table intake.keyed add unique (no)");
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 6; i++) {
      depot.with(i + ".csv", "no\n" + i + "\n" + WIDE);
    }
    AtomicInteger atWork = new AtomicInteger();
    depot.beforeOpening(() -> assertEquals(1, atWork.incrementAndGet()));
    depot.atEnd(path -> atWork.decrementAndGet());
    assertEquals(6, load(warehouse, feed, depot, new ArrayList<>()).count(FileState.POSTED));
  }

  @Test
  void ofTwinsThatTwoProcessesReadAtTheSameTimeOneIsPosted() throws Exception {
    Feed feed = feed("shared");
    warehouse.tables().create(feed.into(), feed.columns());
    ExecutorService threads = Executors.newFixedThreadPool(2);
    for (int round = 0; round < 10; round++) {
      String text = "no\n" + round + "\n" + WIDE;
      CyclicBarrier both = new CyclicBarrier(2);
      List<FileResult> results = Collections.synchronizedList(new ArrayList<>());
      List<Future<?>> loads = new ArrayList<>();
      for (String path : List.of(round + "a.csv", round + "b.csv")) {
        MemoryDepot depot = new MemoryDepot().with(path, text);
        depot.atEnd(p -> meet(both));
        loads.add(
            threads.submit(
                () -> {
                  try (JdbcWarehouse other = (JdbcWarehouse) Warehouses.open(database)) {
                    load(other, feed, depot, results);
                  }
                }));
      }
      for (Future<?> load : loads) {
        load.get();
      }
      long twins = results.stream().filter(result -> result.state() == FileState.TWIN).count();
      assertEquals(1, twins, () -> told(results).toString());
      assertEquals(round + 1, count("intake.shared"));
    }
    threads.shutdown();
    assertTrue(threads.awaitTermination(30, TimeUnit.SECONDS));
  }

  @Test
  void twoProcessesThatWriteTheSameKeysInOppositeOrderBothEnd() throws Exception {
    Feed feed =
        new FeedBuilder("opposed").column("no", "bigint").tolerance("any").existing().build();
    query("create schema if not exists intake");
    query(
        "create table intake.opposed (no bigint primary key, dusky_load bigint, dusky_file bigint,"
            + " dusky_row bigint)");
    int rows = 20_000;
    StringBuilder up = new StringBuilder("no\n");
    StringBuilder down = new StringBuilder("no\n");
    for (int i = 0; i < rows; i++) {
      up.append(i).append('\n');
      down.append(rows - 1 - i).append('\n');
    }
    ExecutorService threads = Executors.newFixedThreadPool(2);
    CyclicBarrier both = new CyclicBarrier(2);
    List<Future<LoadResult>> loads = new ArrayList<>();
    for (String text : List.of(up.toString(), down.toString())) {
      MemoryDepot depot = new MemoryDepot().with(text.length() + text.substring(3, 8), text);
      AtomicInteger opened = new AtomicInteger();
      depot.beforeOpening(
          () -> {
            if (opened.getAndIncrement() == 0) {
              meet(both);
            }
          });
      loads.add(
          threads.submit(
              () -> {
                try (JdbcWarehouse other = (JdbcWarehouse) Warehouses.open(database)) {
                  return load(other, feed, depot, new ArrayList<>());
                }
              }));
    }
    long loaded = 0;
    for (Future<LoadResult> load : loads) {
      loaded += load.get().tally().loaded();
    }
    assertEquals(rows, loaded);
    assertEquals(rows, count("intake.opposed"));
    threads.shutdown();
  }

  @Test
  void loadsThatBeginWhileOthersLookForDeadOnesAreNeverTakenForDead() throws Exception {
    Feed feed = feed("starts");
    warehouse.tables().create(feed.into(), feed.columns());
    ExecutorService threads = Executors.newFixedThreadPool(4);
    List<Future<?>> work = new ArrayList<>();
    for (int t = 0; t < 4; t++) {
      int thread = t;
      work.add(
          threads.submit(
              () -> {
                try (JdbcWarehouse other = (JdbcWarehouse) Warehouses.open(database)) {
                  for (int i = 0; i < 25; i++) {
                    assertEquals(List.of(), other.ledger().closeInterrupted());
                    load(
                        other,
                        feed,
                        new MemoryDepot().with(thread + "-" + i, "no\n" + thread + i + "\n"),
                        new ArrayList<>());
                  }
                }
                return null;
              }));
    }
    for (Future<?> each : work) {
      each.get();
    }
    threads.shutdown();
    assertEquals(
        0, query("select 1 from dusky.load where feed = 'starts' and state <> 'done'").size());
  }
}
