package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.load.LoadResult;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.testkit.MemoryDepot;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class PostgresRefusalTest extends RefusalContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }

  @Test
  void whatOnlyTheTableItselfCanJudgeIsFoundWithinTheServer() {
    judges("judged");
    judged("judged", warehouse);
  }

  @Test
  void orByHalvingIfTheServerRunsNoBlocks() {
    judges("halved");
    execute("create role plain login password 'x'");
    execute("revoke usage on language plpgsql from public");
    for (String schema : List.of("dusky", "dairy", "intake")) {
      execute("grant usage on schema " + schema + " to plain");
      execute("grant all on all tables in schema " + schema + " to plain");
      execute("grant all on all sequences in schema " + schema + " to plain");
    }
    DatabaseSettings visitor =
        new DatabaseSettings(
            database.url(), Optional.of("plain"), Optional.of(new Secret(() -> "x")));
    try (JdbcWarehouse plain = (JdbcWarehouse) Warehouses.open(visitor)) {
      judged("halved", plain);
    } finally {
      execute("grant usage on language plpgsql to public");
    }
  }

  /** A table with rules that no query can ask for. */
  private void judges(String table) {
    execute("create domain dairy.small_" + table + " as integer check (value < 100)");
    execute(
        ("create table intake.%s (no bigint, farm varchar(8), litres dairy.small_%s, exclude (farm"
                    + " with =) where (farm is not null), unique (no) deferrable initially deferred")
                .formatted(table, table)
            + PROVENANCE);
    execute(
        "create or replace function dairy.grumble() returns trigger language plpgsql as $$ begin"
            + " if new.no % 1000 = 13 then raise exception 'not on a Friday'; end if;"
            + " if new.no % 1000 = 14 then return null; end if; return new; end $$");
    execute(
        "create trigger grumble before insert on intake."
            + table
            + " for each row execute function dairy.grumble()");
  }

  private void judged(String table, Warehouse target) {
    String text = "no,farm,litres\n11,A,1\n12,B,100\n13,C,1\n14,D,1\n15,A,1\n11,E,1\n16,F,1\n";
    StringBuilder more = new StringBuilder("no,farm,litres\n");
    for (int no = 1000; no < 21_000; no++) {
      more.append(no).append(",,7\n");
    }
    MemoryDepot depot = new MemoryDepot().with("a.csv", text).with("b.csv", more.toString());
    LoadResult result = load(target, feed(table, "any"), depot, new ArrayList<>());
    assertEquals(Tally.posted(20_007, 19_962, 45, 0), result.tally());
    assertEquals(19_962, count("intake." + table));
    assertEquals(
        List.of(
            "2 failed-constraint litres",
            "3 refused-by-table ",
            "4 left-out ",
            "5 overlapping ",
            "6 key-taken no"),
        problems(table, "a.csv"));
    assertEquals(
        List.of("1014 refused-by-table ", "1015 left-out "),
        problems(table, "b.csv").subList(2, 4));
    assertEquals(
        List.of(List.<Object>of("the table refuses it: not on a Friday", 21L)),
        query(
            "select message, count(*) from dusky.reject_detail where code = 'refused-by-table'"
                + " and feed = '%s' group by message".formatted(table)));
  }
}
