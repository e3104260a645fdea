package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** One session of the engine on tables in a store: loads, a merge with its proof, and SQL. */
class LakeEngineTest extends MergeTesting {

  private static String endpoint;
  private static Warehouse lake;

  @Override
  Warehouse opened() throws Exception {
    if (lake == null) {
      endpoint = TableStore.start(Files.createTempDirectory(Path.of("target"), "store"));
      lake = OneLake.open("local[2]", TableStore.at(endpoint));
    }
    return lake;
  }

  @Override
  DatabaseSettings address() {
    throw new IllegalStateException("the warehouse is opened already");
  }

  @Test
  void aMergeCommitsWithItsEntryAndIsProved() {
    tables(
        "k integer, ver integer, v decimal(9,2), gone boolean",
        "k integer primary key, ver integer, v decimal(9,2)");
    Merge merge =
        newer(
            with(
                new ExistingPolicy.Overwrite(List.of()),
                deleted(GoneKeys.DELETE, null),
                Optional.empty()),
            null,
            List.of("v"));
    execute("insert into dairy.target values (1, 1, 1.25), (2, 1, 2.5)");
    land(
        List.of(
            "1, 2, 1.5, false",
            "2, 2, 0, true",
            "3, 1, 3, false",
            "3, 1, 3, false",
            "null, 1, 4, false"));
    assertEquals(new MergeTally(5, 1, 1, 0, 1, 1, 1, 0), one(merge).tally());
    assertEquals(
        "[[1, 2, 1.50], [3, 1, 3.00]]",
        query("select k, ver, v from dairy.target order by k").toString());
    assertTrue(run(merge).get(0).tally().idle());
    MergeProof proof = warehouse.proofs().merge(merge).orElseThrow();
    assertEquals(List.of(), proof.contradictions());
    assertEquals(List.of(), proof.twice());
    assertEquals(2, proof.inTarget());
  }

  @Test
  void nestedValuesAreMergedAndShownAsJson() {
    String columns =
        "k integer, ver integer, v struct<a: int, B: array<string>>, m map<string, date>";
    clean();
    execute(
        "create table if not exists intake.landed (%s, dusky_load bigint, dusky_file bigint, dusky_row bigint)"
            .formatted(columns));
    execute("create table if not exists dairy.target (" + columns + ")");
    Merge merge = with(new ExistingPolicy.Overwrite(List.of()), Optional.empty(), Optional.empty());
    String row = "%d, %d, named_struct('a', 1, 'B', array('x', %s)), map('p', date '2026-03-01')";
    land(List.of(row.formatted(1, 1, "null"), row.formatted(2, 1, "'y'"), "3, 1, null, null"));
    assertEquals(new MergeTally(3, 3, 0, 0, 0, 0, 0, 0), one(merge).tally());
    land(List.of(row.formatted(1, 1, "null"), row.formatted(2, 2, "'z'"), "3, 1, null, map()"));
    MergeTally second = one(merge).tally();
    assertEquals(
        List.of(0L, 2L, 1L), List.of(second.inserted(), second.updated(), second.unchanged()));
    assertEquals(
        "[[1, {\"a\":1,\"B\":[\"x\",null]}, {\"p\":\"2026-03-01\"}],"
            + " [2, {\"a\":1,\"B\":[\"x\",\"z\"]}, {\"p\":\"2026-03-01\"}], [3, null, {}]]",
        query("select k, v, m from dairy.target order by k").toString());
  }

  @Test
  void filesAreReadByTheProgramOnTheEngine(@TempDir Path folder) throws IOException {
    LoadOnEngine.check(warehouse, TableStore.PLACE + " " + endpoint, folder, "engine_read", false);
    assertEquals(
        "[[1, 10], [2, 20], [4, 40], [4, 40]]",
        query("select no, v from intake.engine_read order by no").toString());
  }

  @Test
  void repeatsAreFoundAmongTheRowsOfFilesThatDifferentMachinesRead(@TempDir Path folder)
      throws IOException {
    LoadOnEngine.checkAmongFiles(
        warehouse, TableStore.PLACE + " " + endpoint, folder, "engine_among");
  }

  @Test
  void statementsOfPeopleMakeChangeAndDropTables() {
    clean();
    execute("create table if not exists dairy.note (no int, said string)");
    execute("insert into dairy.note (no, said) values (1, 'it''s \"new\" \\ here'), (2, null)");
    assertEquals(
        "[[1, it's \"new\" \\ here], [2, null]]",
        query("select no, said from dairy.note order by no fetch first 5 rows only").toString());
    execute("drop table dairy.note");
    Failure gone = assertThrows(Failure.class, () -> query("select * from dairy.note"));
    assertTrue(gone.getMessage().contains("dairy"), gone.getMessage());
  }
}
