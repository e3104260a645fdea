package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class PostgresReplaceTest extends ReplaceContract {

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
    return new FeedBuilder(name).column("no", "bigint not null").replacing(100).build();
  }

  /** Whether a connection waits for a table that another one has locked. */
  private boolean waits() {
    return !query("select 1 from pg_locks where not granted and locktype = 'relation'").isEmpty();
  }

  @Test
  void ofTwoLoadsAtOnceTheSecondReplacesWhatTheFirstHasPosted() throws Exception {
    Feed feed = feed("atonce");
    load(feed, new MemoryDepot().with("0.csv", "no\n0\n"));
    MemoryDepot first = new MemoryDepot().with("a.csv", "no\n1\n");
    CountDownLatch second = new CountDownLatch(1);
    CountDownLatch reading = new CountDownLatch(1);
    first.atEnd(
        path -> {
          reading.countDown();
          try {
            second.await();
          } catch (InterruptedException e) {
            throw new AssertionError(e);
          }
        });
    CompletableFuture<LoadResult> one = CompletableFuture.supplyAsync(() -> load(feed, first));
    reading.await();
    LoadResult same = load(feed, new MemoryDepot().with("a.csv", "no\n1\n"));
    assertEquals(1, same.claimed(), "its file is being loaded");
    MemoryDepot other = new MemoryDepot().with("b.csv", "no\n2\n");
    CompletableFuture<LoadResult> two = CompletableFuture.supplyAsync(() -> load(feed, other));
    while (!waits()) {
      assertFalse(two.isDone(), "it does not wait");
      Thread.onSpinWait();
    }
    assertEquals(List.of(List.of(0L)), query("select no from intake.atonce"), "nobody else waits");
    second.countDown();
    assertEquals(1, one.get().replaced().rows());
    assertEquals(1, two.get().replaced().rows());
    assertEquals(List.of(List.of(2L)), query("select no from intake.atonce"));
    assertEquals(
        List.of(), warehouse.proofs().feed("atonce", feed.into(), List.of()).differences());
  }
}
