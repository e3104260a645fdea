package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PostgresMergeTest extends MergeContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }

  /** One statement sums what it writes; the sums are those of the way that judges row by row. */
  @ParameterizedTest
  @ValueSource(strings = {"overwrite", "keep", "only-w"})
  void sumsOfOnePassAreThoseOfTheOtherWay(String existing) {
    ExistingPolicy how =
        switch (existing) {
          case "keep" -> new ExistingPolicy.Keep();
          case "only-w" -> new ExistingPolicy.Overwrite(List.of("w"));
          default -> new ExistingPolicy.Overwrite(List.of());
        };
    tables(
        "k integer, ver integer, v decimal(9,2), w bigint",
        "k integer primary key, ver integer, v decimal(9,2), w bigint");
    execute(
        "create table dairy.other (k integer primary key, ver integer, v decimal(9,2), w bigint)");
    execute("insert into dairy.target values (1000, 1, 7.25, 3)");
    execute("insert into dairy.other values (1000, 1, 7.25, 3)");
    Merge merge = newer(with(how, Optional.empty(), Optional.empty()), null, List.of("v", "w"));
    Merge other =
        from(merge, "other", merge.source(), new TableName("dairy", "other"), merge.create());
    Random random = new Random(existing.hashCode());
    try (JdbcWarehouse older = OlderPostgres.open(database)) {
      for (int round = 0; round < 10; round++) {
        List<String> rows = new ArrayList<>();
        for (int i = random.nextInt(60); i >= 0; i--) {
          rows.add(
              "%s, %s, %s, %s"
                  .formatted(
                      random.nextInt(40) == 0 ? null : random.nextInt(30),
                      random.nextInt(20) == 0 ? null : random.nextInt(6),
                      random.nextInt(20) == 0 ? null : random.nextInt(300) + ".75",
                      random.nextInt(4)));
        }
        land(rows);
        assertEquals(
            merging(older, other, start(false, OptionalLong.empty()), table -> {}).get(0).tally(),
            one(merge).tally(),
            "round " + round);
        assertEquals(sums("other"), sums("target"), "round " + round);
      }
    }
    assertEquals(
        query("select * from dairy.other order by k"),
        query("select * from dairy.target order by k"));
    assertTrue(sums("target").size() >= 20, sums("target").toString());
  }

  private List<List<Object>> sums(String merge) {
    return query(
        "select column_name, landed_total, inserted_total, updated_total, unchanged_total,"
            + " superseded_total, deleted_total, rejected_total, replaced_total, removed_total,"
            + " total_before from dusky.merge_total x join dusky.merge_run r on r.merge_id ="
            + " x.merge_id where r.merge_name = '"
            + merge
            + "' order by x.merge_id, column_name");
  }
}
