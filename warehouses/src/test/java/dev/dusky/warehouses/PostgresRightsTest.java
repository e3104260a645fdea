package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.connection.JdbcGrants;
import dev.dusky.warehouses.connection.SqlFailures;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What roles with few rights can do, and the message when they cannot. */
class PostgresRightsTest extends MergeTesting {

  private static int roles;

  private DatabaseSettings owner;
  private String role;

  @Override
  DatabaseSettings address() throws Exception {
    owner = TestPostgres.newDatabase();
    return owner;
  }

  @BeforeEach
  void makeRole() {
    role = "visitor" + ++roles;
    tables("k integer, ver integer, v integer", "k integer primary key, ver integer, v integer");
    query("create role " + role + " login password 'x'");
    query("revoke temporary on database " + database() + " from public");
  }

  private String database() {
    return owner.url().substring(owner.url().lastIndexOf('/') + 1);
  }

  private JdbcWarehouse asRole() {
    return (JdbcWarehouse)
        (JdbcWarehouse)
            Warehouses.open(
                new DatabaseSettings(
                    owner.url(), Optional.of(role), Optional.of(new Secret(() -> "x"))));
  }

  private static Feed feed() {
    return new FeedBuilder("landed").column("k", "integer").existing().build();
  }

  private static String message(Runnable work) {
    return assertThrows(Failure.class, work::run).getMessage();
  }

  private void grant(List<String> statements) {
    statements.forEach(this::query);
  }

  @Test
  void whatExistsAndCannotBeSeenIsNotCalledMissing() {
    try (JdbcWarehouse visitor = asRole()) {
      String told = message(() -> visitor.tables().shape(LANDED));
      assertTrue(told.contains("cannot be seen by user " + role), told);
      assertTrue(told.contains("grant select on \"intake\".\"landed\" to " + role), told);
      assertEquals(Optional.empty(), visitor.tables().shape(new TableName("intake", "nothing")));
      String ledger = message(() -> visitor.ledger().prepare());
      assertTrue(ledger.contains("grant usage on schema dusky to " + role), ledger);
      assertFalse(ledger.contains("create"), ledger);
    }
  }

  @Test
  void aRoleThatLooksCanLook() {
    land(List.of("1, 1, 10"));
    query(
        "insert into dusky.load (feed, into_table, state, started_at, started_by, host,"
            + " tool_version, declared) values ('f', 'intake.landed', 'running',"
            + " current_timestamp, 'x', 'x', 'x', 'x')");
    grant(new JdbcGrants().looking(role, List.of(LANDED, TARGET)));
    try (JdbcWarehouse visitor = asRole()) {
      visitor.ledger().prepare();
      assertEquals(List.of(), visitor.ledger().closeInterrupted());
      assertEquals(1, visitor.proofs().feed("f", LANDED, List.of()).tableRows());
      assertTrue(visitor.proofs().merge(merge()).isPresent());
      String told =
          message(
              () ->
                  load(visitor, feed(), new MemoryDepot().with("a", "k\n1\n"), new ArrayList<>()));
      assertTrue(told.contains("lacks a right"), told);
      assertTrue(told.contains("grant select, insert, update, delete on load to"), told);
    }
  }

  @Test
  void aRoleThatReplacesNeedsOneRightMore() {
    Feed feed = new FeedBuilder("landed").column("k", "integer").existing().replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a", "k\n1\n");
    grant(new JdbcGrants().loading(role, database(), List.of(LANDED)));
    try (JdbcWarehouse visitor = asRole()) {
      String told = message(() -> load(visitor, feed, depot, new ArrayList<>()));
      assertTrue(told.contains("lacks a right"), told);
      grant(new JdbcGrants().replacing(role));
      assertTrue(load(visitor, feed, depot, new ArrayList<>()).clean());
      depot.with("b", "k\n2\n");
      assertEquals(1, load(visitor, feed, depot, new ArrayList<>()).replaced().rows());
    }
  }

  private static LoadResult rehearse(JdbcWarehouse visitor, MemoryDepot depot) {
    return rehearsing(
            visitor,
            (file, outcome, rejects) -> {},
            LoadRun.of(feed(), depot, new LoadListener() {}, () -> false))
        .run(start(feed()));
  }

  @Test
  void whoMayOnlyReadCanRehearseAllButTheJudgementOfTheTable() {
    MemoryDepot depot = new MemoryDepot().with("a", "k\n1\n2\nx\n");
    depot.with("b", "k\n" + "3\n".repeat(9));
    grant(new JdbcGrants().looking(role, List.of(LANDED, TARGET)));
    try (JdbcWarehouse visitor = asRole()) {
      assertFalse(visitor.tables().writable(LANDED));
      LoadResult result = rehearse(visitor, depot);
      assertEquals(1, result.count(FileState.POSTED));
      assertEquals(1, result.count(FileState.REFUSED));
    }
    query("alter role " + role + " set default_transaction_read_only = on");
    query("grant insert, delete on intake.landed to " + role);
    try (JdbcWarehouse standby = asRole()) {
      assertFalse(standby.tables().writable(LANDED), "as on a server that only reads");
      assertEquals(1, rehearse(standby, depot).count(FileState.POSTED));
    }
    query("alter role " + role + " reset default_transaction_read_only");
    try (JdbcWarehouse visitor = asRole()) {
      assertTrue(visitor.tables().writable(LANDED));
      assertEquals(1, rehearse(visitor, depot).count(FileState.POSTED));
    }
    assertEquals(0, count("intake.landed"));
  }

  @Test
  void aRoleThatLoadsCanLoadAndOneThatMergesCanMerge() {
    grant(new JdbcGrants().loading(role, database(), List.of(LANDED)));
    try (JdbcWarehouse visitor = asRole()) {
      MemoryDepot depot =
          new MemoryDepot().with("a", "k\n1\n2\n").with("b", "k\n" + "3\n".repeat(9));
      assertEquals(2, load(visitor, feed(), depot, new ArrayList<>()).count(FileState.POSTED));
      String told =
          message(
              () ->
                  merging(
                      visitor, merge(), start(false, java.util.OptionalLong.empty()), table -> {}));
      assertTrue(told.contains("cannot be seen") || told.contains("lacks a right"), told);
    }
    query("revoke all on all tables in schema intake from " + role);
    grant(new JdbcGrants().merging(role, database(), List.of(LANDED), List.of(TARGET)));
    try (JdbcWarehouse visitor = asRole()) {
      MergeResult result =
          merging(visitor, merge(), start(false, java.util.OptionalLong.empty()), table -> {})
              .get(0);
      assertEquals(11, result.tally().landed());
      assertTrue(
          message(
                  () ->
                      load(
                          visitor,
                          feed(),
                          new MemoryDepot().with("c", "k\n7\n"),
                          new ArrayList<>()))
              .contains("lacks a right"));
    }
  }

  @Test
  void batchesThatFailDoNotShowTheirValues() {
    java.sql.BatchUpdateException batch =
        new java.sql.BatchUpdateException(
            "Batch entry 0 insert into t values (('secret pay')) was aborted: ERROR: broken pipe"
                + "  Call getNextException to see other errors in the batch.",
            new int[0]);
    String shown = SqlFailures.firstLine(batch);
    assertFalse(shown.contains("secret"), shown);
    assertTrue(shown.contains("broken pipe"), shown);
  }
}
