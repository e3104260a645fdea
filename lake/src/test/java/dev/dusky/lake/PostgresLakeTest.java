package dev.dusky.lake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.warehouse.CatalogSettings;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.service.CatalogService;
import dev.dusky.lake.service.ServicePointers;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.ledger.JdbcLedger;
import dev.dusky.warehouses.postgres.CopyWriting;
import dev.dusky.warehouses.postgres.PostgresDialect;
import dev.dusky.warehouses.posting.JdbcTables;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.stream.LongStream;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.IcebergGenerics;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class PostgresLakeTest extends LakeContract {

  private static EmbeddedPostgres server;
  private static int databases;

  @BeforeAll
  static void start() throws IOException {
    server = EmbeddedPostgres.start();
  }

  @AfterAll
  static void stop() throws IOException {
    server.close();
  }

  @Override
  int stride() {
    return 2;
  }

  private DatabaseSettings here;

  @Override
  DatabaseSettings address() throws Exception {
    String name = "lake" + ++databases;
    try (Connection admin = DriverManager.getConnection(server.getJdbcUrl("postgres", "postgres"));
        Statement statement = admin.createStatement()) {
      statement.execute("create database " + name);
    }
    here =
        new DatabaseSettings(
            "jdbc:postgresql://localhost:" + server.getPort() + "/" + name,
            Optional.of("postgres"),
            Optional.empty());
    return here;
  }

  @Override
  Database open(DatabaseSettings settings) {
    return new Database(settings, new PostgresDialect());
  }

  @Override
  JdbcTables ledgerTables(Database of) {
    return new JdbcTables(of, new CopyWriting());
  }

  /** How many files the writers of the test divide. */
  private static final int FILES = Integer.getInteger("dusky.commits", 24);

  /**
   * Fails, or kills the transaction's server process, between the table's commit and the ledger's.
   */
  private void disturb(Random random, Transaction transaction) {
    int what = random.nextInt(6);
    if (what == 0) {
      throw Failure.warehouse("the process is interrupted here").because("a test");
    }
    if (what == 1) {
      int process =
          JdbcTransaction.of(transaction)
              .handle()
              .createQuery("select pg_backend_pid()")
              .mapTo(Integer.class)
              .one();
      try {
        ask("select pg_terminate_backend(" + process + ")");
      } catch (Exception e) {
        throw new IllegalStateException(e);
      }
    }
  }

  private LoadResult load(Feed feed, MemoryDepot depot, Random random) throws Exception {
    try (Database own = open(here)) {
      Tables tables =
          DisturbedTables.of(tables(own, files), transaction -> disturb(random, transaction));
      return new FeedLoader(
              new JdbcLedger(own),
              tables,
              LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
          .run(start(feed));
    }
  }

  /** Six writers, a third of their commits interrupted or killed: table and ledger are one. */
  @Test
  void writersThatAreKilledLoseNothingAndDoubleNothing() throws Exception {
    Feed feed = new FeedBuilder("many").column("no", "bigint").build();
    load(feed, new MemoryDepot().with("first.csv", "no\n-1\n"), files);
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < FILES; file++) {
      depot.with(file + ".csv", "no\n" + file + "\n");
    }
    List<CompletableFuture<Integer>> writers = new ArrayList<>();
    for (int writer = 0; writer < 6; writer++) {
      Random random = new Random(writer);
      writers.add(
          CompletableFuture.supplyAsync(
              () -> {
                int failures = 0;
                for (boolean all = false; !all; ) {
                  try {
                    LoadResult result = load(feed, depot, random);
                    all = result.claimed() == 0;
                  } catch (Failure failure) {
                    failures++;
                  } catch (Exception e) {
                    throw new IllegalStateException(e);
                  }
                }
                return failures;
              }));
    }
    int failures = 0;
    for (CompletableFuture<Integer> writer : writers) {
      failures += writer.get();
    }
    assertTrue(failures > 3, failures + " failures");
    List<Long> numbers =
        rows(feed.into()).stream().map(row -> (Long) row.getField("no")).sorted().toList();
    assertEquals(LongStream.range(-1, FILES).boxed().toList(), numbers);
    assertEquals(
        String.valueOf(FILES + 1),
        ask("select sum(loaded_rows) from dusky.tally where state = 'posted'").toString());
  }

  /** The pointers are in a service, and what can fail between the three does. */
  @Test
  void writersOfACatalogServiceThatAreKilledLoseNothingAndDoubleNothing() throws Exception {
    try (CatalogServer server = CatalogServer.start("killed" + databases, place(), files)) {
      Feed feed = new FeedBuilder("many").column("no", "bigint").build();
      server.disturb(new Chance(server));
      List<CompletableFuture<Integer>> writers = new ArrayList<>();
      for (int writer = 0; writer < 4; writer++) {
        String user = "w" + writer;
        writers.add(
            CompletableFuture.supplyAsync(
                () -> {
                  int failures = 0;
                  for (int count = 1; count <= SERVED; ) {
                    try {
                      load(feed, numbered(count), server, user);
                      count++;
                    } catch (Failure failure) {
                      failures++;
                    }
                    server.revive(user); // another process
                  }
                  return failures;
                }));
      }
      int failures = 0;
      for (CompletableFuture<Integer> writer : writers) {
        failures += writer.get();
      }
      server.calm();
      load(feed, numbered(SERVED), server, "last");
      assertTrue(failures > 0, "at least one process was killed");
      List<Long> numbers = new ArrayList<>();
      try (Database own = open(here)) {
        CatalogService service = new CatalogService(CatalogSettings.at(server.url()), files);
        LakeCatalog catalog = new LakeCatalog(new ServicePointers(service, own), place(), files);
        Table table =
            own.transact("Looking", h -> catalog.table(h.getConnection(), feed.into()).get());
        try (CloseableIterable<Record> rows = IcebergGenerics.read(table).build()) {
          rows.forEach(row -> numbers.add((Long) row.getField("no")));
        }
      }
      assertEquals(
          String.valueOf(SERVED),
          ask("select sum(loaded_rows) from dusky.tally where state = 'posted'").toString());
      assertEquals(
          LongStream.range(0, SERVED).boxed().toList(), numbers.stream().sorted().toList());
      assertEquals("0", ask("select count(*) from dusky.intent").toString());
    }
  }

  private static MemoryDepot numbered(int files) {
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < files; file++) {
      depot.with(file + ".csv", "no\n" + file + "\n");
    }
    return depot;
  }

  private static final int SERVED = Integer.getInteger("dusky.commits", 24) / 4;

  private LoadResult load(Feed feed, MemoryDepot depot, CatalogServer server, String user) {
    CatalogSettings settings =
        new CatalogSettings(
            server.url(),
            Optional.empty(),
            Optional.of(new Secret(() -> user)),
            Optional.empty(),
            Map.of("rest.client.max-retries", "1"));
    try (Database own = open(here);
        CatalogService service = new CatalogService(settings, files)) {
      LakeCatalog catalog = new LakeCatalog(new ServicePointers(service, own), place(), files);
      return new FeedLoader(
              new JdbcLedger(own),
              new LakeTables(own, ledgerTables(own), catalog),
              LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
          .run(start(feed));
    }
  }

  /** A request is refused, or its answer lost, or the process or its transaction killed. */
  private final class Chance implements CatalogServer.Disturbance {

    private final CatalogServer server;
    private boolean killed;
    private final Random random = new Random(Integer.getInteger("dusky.seed", 7));

    Chance(CatalogServer server) {
      this.server = server;
    }

    @Override
    public synchronized boolean before(String user) {
      return random.nextInt(10) > 0;
    }

    @Override
    public synchronized boolean after(String user) {
      int what = random.nextInt(6);
      if (what == 0 || !killed) {
        killed = true;
        server.kill(user);
      }
      if (what == 1) {
        try {
          ask(
              "select pg_terminate_backend(pid) from pg_stat_activity where state ="
                  + " 'idle in transaction' and query like '%dusky.intent%' limit 1");
        } catch (Exception e) {
          throw new IllegalStateException(e);
        }
      }
      return what != 2;
    }
  }
}
