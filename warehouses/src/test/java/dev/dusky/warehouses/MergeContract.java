package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.table.TableName;
import dev.dusky.warehouses.ModelMerge.Landed;
import dev.dusky.warehouses.ModelMerge.Outcome;
import dev.dusky.warehouses.ModelMerge.Row;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** JdbcMerges compared with a plain model in memory, on random batches of many keys. */
abstract class MergeContract extends MergeTesting {

  private static final int KEYS = 120;

  /** How many merges a history has, where it usually has so many. */
  int rounds(int usual) {
    return usual;
  }

  private static Integer some(Random random, int most, double nulls) {
    return random.nextDouble() < nulls ? null : random.nextInt(most);
  }

  private static List<Landed> batch(Random random) {
    List<Landed> rows = new ArrayList<>();
    int count = random.nextInt(KEYS * 3);
    boolean allGone = random.nextInt(12) == 0;
    for (int i = 0; i < count; i++) {
      rows.add(
          new Landed(
              random.nextInt(80) == 0 ? null : random.nextInt(KEYS),
              some(random, 12, 0.02),
              some(random, 4, 0.1),
              some(random, 3, 0.15),
              some(random, 3, 0.15),
              allGone || random.nextInt(7) == 0));
    }
    return rows;
  }

  private static String sql(Landed row) {
    String at =
        row.at() == null ? "null" : "timestamp '2026-03-%02d 06:00:00'".formatted(row.at() + 1);
    return "%s, %s, %s, %s, %s, %s".formatted(row.k(), at, row.ver(), row.v(), row.w(), row.gone());
  }

  private static void assertTally(int landed, ModelMerge model, MergeTally tally, String when) {
    assertEquals(
        new MergeTally(
            landed,
            model.tally(Outcome.INSERTED),
            model.tally(Outcome.UPDATED),
            model.tally(Outcome.UNCHANGED),
            model.tally(Outcome.SUPERSEDED),
            model.tally(Outcome.DELETED),
            model.tally(Outcome.REJECTED),
            0),
        tally,
        when);
    assertTrue(tally.balanced(), when);
  }

  @ParameterizedTest
  @CsvSource({
    "overwrite,delete",
    "overwrite,mark",
    "overwrite,none",
    "keep,delete",
    "keep,mark",
    "keep,none",
    "only-w,mark",
    "only-w,none"
  })
  void plainTargetsAgreeWithTheModel(String existing, String deleted) {
    tables(
        "k integer, \"at\" timestamp, ver integer, v integer, w integer, gone boolean",
        "k integer primary key, ver integer, v integer, w integer, marked boolean");
    boolean stays = deleted.equals("none");
    String into = deleted.equals("mark") ? "marked" : null;
    Optional<DeleteMarker> marker =
        stays
            ? Optional.empty()
            : deleted(GoneKeys.valueOf(deleted.toUpperCase(java.util.Locale.ROOT)), into);
    ExistingPolicy how =
        switch (existing) {
          case "keep" -> new ExistingPolicy.Keep();
          case "only-w" -> new ExistingPolicy.Overwrite(List.of("w"));
          default -> new ExistingPolicy.Overwrite(List.of());
        };
    Merge merge = with(how, marker, Optional.empty());
    Random random = new Random(existing.hashCode() * 31L + deleted.hashCode());
    Map<Integer, Row> target = new TreeMap<>();
    for (int round = 0; round < rounds(6); round++) {
      List<Landed> rows = batch(random);
      rows.replaceAll(r -> new Landed(r.k(), null, r.ver(), r.v(), r.w(), r.gone() && !stays));
      land(rows.stream().map(MergeContract::sql).toList());
      ModelMerge model = new ModelMerge();
      model.plain(target, rows, existing, deleted);
      MergeTally tally = one(merge).tally();
      String when = "round " + round;
      assertTally(rows.size(), model, tally, when);
      assertEquals(
          target.entrySet().stream()
              .map(
                  e ->
                      e.getKey()
                          + " "
                          + e.getValue().ver()
                          + " "
                          + e.getValue().v()
                          + " "
                          + e.getValue().w()
                          + " "
                          + e.getValue().marked())
              .collect(Collectors.joining("\n")),
          query("select k, ver, v, w, coalesce(marked, false) from dairy.target order by k")
              .stream()
              .map(r -> r.stream().map(String::valueOf).collect(Collectors.joining(" ")))
              .collect(Collectors.joining("\n")),
          when);
      assertTrue(one(merge).tally().idle(), when);
    }
  }

  @ParameterizedTest
  @ValueSource(longs = {20260301, 20260302, 20260303})
  void historiesAgreeWithTheModel(long seed) {
    tables(
        "k integer, \"at\" timestamp, ver integer, v integer, w integer, gone boolean",
        "k integer not null, v integer, w integer, valid_from timestamp not null,"
            + " valid_to timestamp, is_current boolean");
    Merge merge =
        with(
            history("v"),
            Optional.of(new DeleteMarker("gone", List.of("true"), GoneKeys.END, Optional.empty())),
            Optional.empty());
    Random random = new Random(seed);
    Map<Integer, List<Row>> target = new HashMap<>();
    Map<Integer, TreeMap<Integer, Landed>> said = new HashMap<>();
    for (int round = 0; round < rounds(10); round++) {
      List<Landed> rows = batch(random);
      land(rows.stream().map(MergeContract::sql).toList());
      ModelMerge model = new ModelMerge();
      model.history(target, rows, said);
      MergeTally tally = one(merge).tally();
      String when = "round " + round;
      assertHistory(target, when);
      assertTally(rows.size(), model, tally, when);
    }
  }

  /** Most keys land once and in order of time; some land late, several times or unchanged. */
  @ParameterizedTest
  @ValueSource(longs = 20260304)
  void historiesThatComeInOrderAgreeWithTheModel(long seed) {
    tables(
        "k integer, \"at\" timestamp, ver integer, v integer, w integer, gone boolean",
        "k integer not null, v integer, w integer, valid_from timestamp not null,"
            + " valid_to timestamp, is_current boolean");
    Merge merge = with(history(), Optional.empty(), Optional.empty());
    Random random = new Random(seed);
    Map<Integer, List<Row>> target = new HashMap<>();
    Map<Integer, TreeMap<Integer, Landed>> said = new HashMap<>();
    for (int round = 0; round < rounds(9); round++) {
      int day = round;
      List<Landed> rows = new ArrayList<>();
      for (int i = random.nextInt(KEYS); i > 0; i--) {
        Integer v = some(random, 3, 0.1);
        int at = random.nextInt(6) == 0 ? random.nextInt(day + 1) : day;
        rows.add(new Landed(random.nextInt(KEYS), at, some(random, 2, 0), v, v, false));
      }
      land(rows.stream().map(MergeContract::sql).toList());
      ModelMerge model = new ModelMerge();
      model.history(target, rows, said);
      MergeTally tally = one(merge).tally();
      assertHistory(target, "round " + round);
      assertTally(rows.size(), model, tally, "round " + round);
    }
  }

  private void assertHistory(Map<Integer, List<Row>> target, String when) {
    assertEquals(
        new TreeMap<>(target)
            .entrySet().stream()
                .flatMap(e -> e.getValue().stream().map(r -> e.getKey() + " " + shown(r)))
                .collect(Collectors.joining("\n")),
        query(
                "select k, extract(day from valid_from) - 1, extract(day from valid_to) - 1, v,"
                    + " w, is_current from dairy.target order by k, valid_from")
            .stream()
            .map(MergeContract::shown)
            .collect(Collectors.joining("\n")),
        when);
  }

  private static final TableName LATER = new TableName("dairy", "later");

  /** A column that is filled later is as if it had been there from the beginning. */
  @Test
  void aColumnThatIsFilledLaterIsAsIfItHadAlwaysBeenThere() {
    tables(
        "k integer, \"at\" timestamp, ver integer, v integer, w integer, gone boolean",
        "k integer primary key, ver integer, v integer, w integer");
    execute("create table dairy.later (k integer primary key, ver integer, v integer)");
    Merge whole =
        with(
            new ExistingPolicy.Overwrite(List.of()),
            deleted(GoneKeys.DELETE, null),
            Optional.empty());
    Merge later = from(whole, "later", new MergeSource.Landing(LANDED), LATER, false);
    Random random = new Random(6);
    for (int round = 0; round < rounds(6); round++) {
      List<Landed> batch = batch(random);
      int turn = round; // rows of one batch that differ in w alone would be rejects
      batch.replaceAll(
          r ->
              new Landed(
                  r.k(), r.at(), r.ver(), r.v(), r.v() == null ? null : r.v() + turn, r.gone()));
      land(batch.stream().map(MergeContract::sql).toList());
      one(whole);
      one(later);
    }
    long filled = warehouse.merges().fill(later, List.of("w"), start(false, OptionalLong.empty()));
    assertEquals(
        query("select k, ver, v, w from dairy.target order by k"),
        query("select k, ver, v, w from dairy.later order by k"));
    assertTrue(filled > rounds(6), "few rows were filled: " + filled);
    assertEquals(
        0L, warehouse.merges().fill(later, List.of("w"), start(false, OptionalLong.empty())));
    assertEquals(1, one(later).spare().size(), "but for the moment");
    assertEquals(List.of(), warehouse.proofs().merge(later).orElseThrow().contradictions());
  }

  private static String shown(Row row) {
    return "%s-%s v%s w%s %s"
        .formatted(row.from(), row.until(), row.v(), row.w(), row.until() == null);
  }

  private static String shown(List<Object> row) {
    return "%s %s-%s v%s w%s %s"
        .formatted(row.get(0), row.get(1), row.get(2), row.get(3), row.get(4), row.get(5));
  }
}
