package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.testkit.MemoryDepot;
import java.util.List;
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
  void whatOnlyTheTableItselfCanJudgeIsFoundByHalving() {
    execute("create domain dairy.small as integer check (value < 100)");
    execute(
        "create table intake.judged (no bigint, farm varchar(8), litres dairy.small,"
            + " exclude (farm with =) where (farm is not null), unique (no) deferrable initially deferred"
            + PROVENANCE);
    execute(
        "create function dairy.grumble() returns trigger language plpgsql as $$ begin"
            + " if new.no = 13 then raise exception 'not on a Friday'; end if;"
            + " if new.no = 14 then return null; end if; return new; end $$");
    execute(
        "create trigger grumble before insert on intake.judged"
            + " for each row execute function dairy.grumble()");
    String text = "no,farm,litres\n11,A,1\n12,B,100\n13,C,1\n14,D,1\n15,A,1\n11,E,1\n16,F,1\n";
    assertEquals(
        Tally.posted(7, 2, 5, 0),
        load(feed("judged", "any"), new MemoryDepot().with("a.csv", text)).tally());
    assertEquals(
        List.of(
            "2 failed-constraint litres",
            "3 refused-by-table ",
            "4 left-out ",
            "5 overlapping ",
            "6 key-taken no"),
        problems("judged"));
    assertEquals(
        "the table refuses it: not on a Friday",
        query("select message from dusky.reject_detail where code = 'refused-by-table'")
            .get(0)
            .get(0));
  }
}
