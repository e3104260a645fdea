package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class PostgresWarehouseTest extends WarehouseContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void makeDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }

  private static String refused(String url) {
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                Warehouses.open(
                    new DatabaseSettings(url, Optional.of("postgres"), Optional.empty())));
    assertEquals(Failure.Kind.WAREHOUSE, failure.kind());
    return failure.getMessage();
  }

  @Test
  void aServerThatDoesNotAnswerIsToldAsSuch() {
    assertTrue(refused("jdbc:postgresql://127.0.0.1:1/x").contains("does not answer"));
  }

  @Test
  void aDatabaseThatDoesNotExistIsToldAsSuch() {
    String url = database.url().replaceAll("/[^/]*$", "/nowhere");
    assertTrue(refused(url).contains("has no such database"));
  }

  @Test
  void aConnectionLostInTheMiddleLeavesNothingBehind() {
    Feed feed =
        new FeedBuilder("lost").column("no", "bigint not null").column("text", "text").build();
    StringBuilder text = new StringBuilder("no,text\n");
    for (int i = 0; i < 200_000; i++) {
      text.append(i).append(",some words to fill the line\n");
    }
    MemoryDepot depot = new MemoryDepot().with("a.csv", text.toString());
    boolean[] killed = {false};
    LoadListener killer =
        new LoadListener() {
          @Override
          public void progress(dev.dusky.core.depot.StagedFile file, long rows, long bytes) {
            if (!killed[0] && rows > 50_000) {
              killed[0] = true;
              query(
                  "select count(pg_terminate_backend(pid)) from pg_stat_activity"
                      + " where query like 'copy%' and pid <> pg_backend_pid()");
            }
          }
        };
    LoadStart start =
        new LoadStart(
            dev.dusky.core.ledger.LoadKind.LOAD,
            "lost",
            "intake.lost",
            "",
            "t",
            "h",
            "v",
            java.time.Instant.now());
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                new FeedLoader(
                        warehouse().ledger(),
                        warehouse().tables(),
                        LoadRun.of(feed, depot, killer, () -> false))
                    .run(start));
    assertEquals(Failure.Kind.WAREHOUSE, failure.kind());
    assertTrue(killed[0]);
    assertEquals(List.of(List.of(0L)), query("select count(*) from intake.lost"));
    assertEquals(200_000, load(feed, depot).tally().loaded());
  }

  @Test
  void severalProcessesMayMakeTheLedgerAtOnce() throws Exception {
    DatabaseSettings fresh = TestPostgres.newDatabase();
    ExecutorService threads = Executors.newFixedThreadPool(4);
    try {
      Callable<Boolean> prepare =
          () -> {
            try (JdbcWarehouse own = (JdbcWarehouse) Warehouses.open(fresh)) {
              own.ledger().prepare();
              return true;
            }
          };
      for (Future<Boolean> done : threads.invokeAll(List.of(prepare, prepare, prepare, prepare))) {
        assertTrue(done.get());
      }
    } finally {
      threads.shutdownNow();
    }
  }

  @Test
  void jsonbAndWiderColumnsAreFilledToo() {
    query("create schema if not exists intake");
    query("create table intake.wider (a bigint, b numeric, c jsonb, d text, e double precision)");
    Feed feed =
        new FeedBuilder("wider")
            .existing()
            .column("a", "smallint")
            .column("b", "decimal(5,2)")
            .column("c", "json")
            .column("d", "varchar(5)")
            .column("e", "real")
            .build();
    load(feed, new MemoryDepot().with("a.csv", "a,b,c,d,e\n-3,1.50,\"[1, 2]\",xy,0.5\n"));
    assertEquals(
        List.of(List.of(-3L, new java.math.BigDecimal("1.50"), "[1, 2]", "xy", 0.5)),
        query("select * from intake.wider"));
  }
}
