package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.Chains;
import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.balance.MergeSum;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.MergedRows;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeChange;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.table.TableName;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import org.junit.jupiter.api.Test;

/** What merges promise beyond their modes, and what they say of bad input. */
abstract class MergeCasesContract extends MergeTesting {

  private static final String PLAIN = "k integer, ver integer, v integer";

  private static MergeTally tally(
      long inserted, long updated, long unchanged, long superseded, long deleted, long rejected) {
    long landed = inserted + updated + unchanged + superseded + deleted + rejected;
    return new MergeTally(landed, inserted, updated, unchanged, superseded, deleted, rejected, 0);
  }

  private static String message(Runnable work) {
    return assertThrows(Failure.class, work::run).getMessage();
  }

  private MergeProof proof(Merge merge) {
    return warehouse.proofs().merge(merge).orElseThrow();
  }

  @Test
  void aRehearsalShowsEachChangeAndLeavesNothing() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    execute("insert into dairy.target values (1, 1, 10), (2, 1, 20), (3, 1, 30)");
    land(List.of("1, 2, 11", "2, 1, 20", "4, 1, 40"));
    long runs = count("dusky.merge_run");
    MergeResult result =
        merging(warehouse, merge(), start(false, OptionalLong.of(10)), t -> {}).get(0);
    assertEquals(tally(1, 1, 1, 0, 0, 0), result.tally());
    assertEquals(2, result.allChanges());
    assertEquals(
        List.of(
            new MergeChange(Map.of("k", 1, "ver", 1, "v", 10), Map.of("k", 1, "ver", 2, "v", 11)),
            new MergeChange(Map.of(), Map.of("k", 4, "ver", 1, "v", 40))),
        result.changes());
    assertEquals(3, count("dairy.target"));
    assertEquals(runs, count("dusky.merge_run"));
    assertEquals(tally(1, 1, 1, 0, 0, 0), one(merge()).tally(), "then it does the same");
  }

  @Test
  void keysThatTheTargetHasTwiceAreToldAndNotMadeWorse() {
    tables(PLAIN, "k integer, ver integer, v integer");
    execute("insert into dairy.target values (1, 1, 10), (1, 1, 11), (2, 1, 20)");
    land(List.of("1, 5, 50", "2, 5, 50", "3, 5, 50"));
    MergeResult result = one(merge());
    assertEquals(tally(1, 1, 0, 0, 0, 1), result.tally());
    assertEquals("key-not-unique", result.rejects().get(0).code());
    assertEquals(List.of("k 1"), result.rejects().get(0).keys());
    assertEquals(
        List.of(List.of(10), List.of(11)),
        query("select v from dairy.target where k = 1 order by v"));
    assertEquals(List.of("k 1: 2 rows"), proof(merge()).twice());
  }

  @Test
  void historiesThatOverlapAreToldAndLeftAlone() {
    tables(
        "k integer, \"at\" date, ver integer, v integer",
        "k integer, v integer, valid_from date, valid_to date, is_current boolean");
    execute(
        "insert into dairy.target values (1, 1, date '2026-03-01', date '2026-03-09', false),"
            + " (1, 2, date '2026-03-05', null, true), (2, 1, date '2026-03-01', null, true),"
            + " (3, 1, date '2026-03-01', date '2026-03-02', false),"
            + " (3, 2, date '2026-03-04', null, true)");
    Merge merge = with(history(), Optional.empty(), Optional.empty());
    land(List.of("1, date '2026-03-10', 1, 9", "2, date '2026-03-10', 1, 9"));
    MergeResult result = one(merge);
    assertEquals(tally(0, 1, 0, 0, 0, 1), result.tally());
    assertEquals(6, count("dairy.target"));
    assertEquals(
        List.of("gap behind k 3 from 2026-03-01", "overlap behind k 1 from 2026-03-01"),
        proof(merge).chains());
    Chains chains = warehouse().proofs().chains(merge).orElseThrow();
    long open =
        (long) query("select count(*) from dairy.target where valid_to is null").get(0).get(0);
    assertEquals(List.of(3L, 6L, open), List.of(chains.keys(), chains.versions(), chains.open()));
    assertEquals(Optional.empty(), warehouse().proofs().chains(merge()), "keeps no history");
  }

  @Test
  void whatDoesNotFitIsToldBeforeAnythingIsWritten() {
    tables(
        "k varchar(10), ver integer, v decimal(9,3), \"at\" timestamp with time zone",
        "k integer primary key, v decimal(9,1), valid_from timestamp, valid_to timestamp,"
            + " is_current boolean");
    land(List.of("'1', 1, 1.125, current_timestamp"));
    String all = message(() -> one(merge()));
    assertTrue(all.contains("key column k is integer in the target"), all);
    assertTrue(all.contains("column v is decimal(9,1) in the target"), all);
    Merge history = with(history(), Optional.empty(), Optional.empty());
    assertTrue(message(() -> one(history)).contains("key column k"));
    execute("drop table dairy.target");
    execute(
        "create table dairy.target (k varchar(10), v decimal(9,3), valid_from timestamp,"
            + " valid_to timestamp, is_current boolean)");
    String zones = message(() -> one(history));
    assertTrue(zones.contains("the time zone between them is unknown"), zones);
    execute("alter table dairy.target drop column valid_to");
    String ddl = message(() -> one(history));
    assertTrue(ddl.contains("alter table \"dairy\".\"target\" add column \"valid_to\""), ddl);
    execute("alter table dairy.target drop column k");
    String key = message(() -> one(merge()));
    assertTrue(key.contains("key column k does not exist in the target"), key);
    execute("drop table dairy.target");
    assertTrue(message(() -> one(merge())).contains("create table \"dairy\".\"target\""));
    assertEquals(
        "failed",
        query("select state from dusky.merge_run order by merge_id desc fetch first 1 row only")
            .get(0)
            .get(0));
  }

  @Test
  void queriesAreReadOnlyAndMergedWhole() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    land(List.of("1, 1, 10", "1, 2, 11", "2, 1, 20"));
    Merge query =
        from(
            merge(),
            "byquery",
            new MergeSource.Query(
                "select k, max(ver) as ver, sum(v) as v0, cast(max(v) as integer) as v from intake.landed group by k"),
            TARGET,
            false);
    assertEquals(tally(2, 0, 0, 0, 0, 0), one(query).tally());
    assertEquals(tally(0, 0, 2, 0, 0, 0), one(query).tally());
    for (String bad :
        List.of(
            "delete from dairy.target",
            "select 1 as k; drop table dairy.target",
            "select nothing from nowhere")) {
      Merge other = from(merge(), "bad", new MergeSource.Query(bad), TARGET, false);
      message(() -> one(other));
    }
    assertEquals(2, count("dairy.target"));
  }

  @Test
  void reservedWordsAreNamesLikeAnyOther() {
    clean();
    execute("create schema intake");
    execute(
        "create table intake.landed (\"order\" integer, \"select\" date, \"group\" varchar(9),"
            + " dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
    land(List.of("1, date '2026-03-01', 'a'", "1, date '2026-03-02', 'b'"));
    Merge base = merge();
    Merge merge =
        new Merge(
            "table",
            base.source(),
            base.into(),
            true,
            List.of("order"),
            List.of(),
            Map.of(),
            new ExistingPolicy.History("select", "from", "to", Optional.of("user"), List.of()),
            Optional.empty(),
            Optional.empty(),
            Optional.of("primary"),
            Optional.empty(),
            List.of(),
            Optional.empty(),
            List.of(),
            List.of());
    assertEquals(tally(1, 1, 0, 0, 0, 0), one(merge).tally());
    assertEquals(
        List.of(List.of("a", false), List.of("b", true)),
        query("select \"group\", \"user\" from dairy.target order by \"from\""));
  }

  @Test
  void lookupsRejectDefaultOrHoldAPlaceForUnknownKeys() {
    tables(
        PLAIN + ", farm varchar(6), hauler varchar(6)",
        "k integer primary key, v integer, farm_id bigint, hauler_id bigint");
    execute(
        "create table dairy.farm (farm_id bigint generated by default as identity primary key, code varchar(6) not null unique, name varchar(20), guessed boolean)");
    execute("insert into dairy.farm (code, name, guessed) values ('A', 'Amber', false)");
    TableName farm = new TableName("dairy", "farm");
    Lookup reject =
        new Lookup(
            "farm_id",
            farm,
            Map.of("code", "s.farm"),
            "farm_id",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Reject());
    Lookup other =
        new Lookup(
            "hauler_id",
            farm,
            Map.of("code", "s.hauler"),
            "farm_id",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Default("-1"));
    Merge merge = latestBy(looking(merge(), reject, other));
    land(List.of("1, 1, 10, 'A', 'B'", "2, 1, 20, 'B', 'A'", "3, 1, 30, null, null"));
    MergeResult result = one(merge);
    assertEquals(tally(2, 0, 0, 0, 0, 1), result.tally());
    assertEquals("farm_id", result.rejects().get(0).column());
    assertEquals(
        List.of("1 1 -1", "3 null null"),
        query("select k, farm_id, hauler_id from dairy.target order by k").stream()
            .map(r -> r.get(0) + " " + r.get(1) + " " + r.get(2))
            .toList());
    execute("insert into dairy.farm (code, name) values ('B', 'Brook')");
    MergeResult again =
        merging(warehouse, merge, start(true, OptionalLong.empty()), t -> {}).get(0);
    assertEquals(tally(1, 0, 0, 0, 0, 0), again.tally());
    assertTrue(
        merging(warehouse, merge, start(true, OptionalLong.empty()), t -> {})
            .get(0)
            .tally()
            .idle());
    MergeProof proof = proof(merge);
    assertEquals(0, proof.rejectsOpen());
    assertEquals(3, proof.inLedger());
    Lookup place =
        new Lookup(
            "farm_id",
            farm,
            Map.of("code", "s.farm"),
            "farm_id",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Placeholder("guessed"));
    Merge holding = latestBy(looking(merge(), place));
    land(List.of("7, 1, 70, 'C', null", "8, 1, 80, 'C', null"));
    assertEquals(tally(2, 0, 0, 0, 0, 0), one(holding).tally());
    assertEquals(1, number("select count(*) from dairy.farm where code = 'C' and guessed"));
    execute("insert into dairy.farm (code) select 'X' || code from dairy.farm");
    execute("alter table dairy.farm add column kind varchar(3)");
    execute("update dairy.farm set kind = 'a'");
    Lookup twice =
        new Lookup(
            "farm_id",
            farm,
            Map.of("kind", "'a'"),
            "farm_id",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Reject());
    String said = message(() -> one(latestBy(looking(merge(), twice))));
    assertTrue(said.contains("have two rows at one time"), said);
  }

  /** A dimension with history that holds places, and a fact that asks for them. */
  private Merge[] placeholders() {
    tables(
        "k integer, farm varchar(6), \"on\" date",
        "k integer primary key, farm_id bigint, \"on\" date");
    execute(
        "create table intake.farm (code varchar(6), name varchar(20), at date, status varchar(6),"
            + " dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
    Merge base = merge();
    Merge farm =
        new Merge(
            "farm",
            new MergeSource.Landing(new TableName("intake", "farm")),
            new TableName("dairy", "farm"),
            true,
            List.of("code"),
            List.of(),
            Map.of(),
            new ExistingPolicy.History(
                "at", "valid_from", "valid_to", Optional.of("is_current"), List.of()),
            Optional.of(
                new dev.dusky.core.merge.DeleteMarker(
                    "status", List.of("closed"), GoneKeys.END, Optional.empty())),
            Optional.empty(),
            Optional.of("farm_id"),
            Optional.of("guessed"),
            List.of(),
            Optional.empty(),
            List.of(),
            List.of());
    Merge fact =
        latestBy(
            looking(
                base,
                new Lookup(
                    "farm_id",
                    new TableName("dairy", "farm"),
                    Map.of("code", "s.farm"),
                    "farm_id",
                    Optional.of("s.\"on\""),
                    Optional.of(
                        new Lookup.Validity("valid_from", "valid_to", Optional.of("is_current"))),
                    new Unknown.Placeholder("guessed"))));
    land("intake.farm", "farms-0", List.of("'A', 'Amber', date '2026-03-01', 'member'"));
    run(farm);
    return new Merge[] {farm, fact};
  }

  private List<String> farms() {
    return query(
            "select code, name, valid_from, valid_to, guessed from dairy.farm"
                + " order by code, valid_from")
        .stream()
        .map(r -> r.stream().map(String::valueOf).reduce((a, b) -> a + " " + b).orElseThrow())
        .toList();
  }

  @Test
  void aPlaceholderReachesBackToTheFirstFactThatAsksForIt() {
    Merge[] both = placeholders();
    land(List.of("1, 'B', date '2026-03-10'", "2, 'B', date '2026-03-08'"));
    assertEquals(tally(2, 0, 0, 0, 0, 0), one(both[1]).tally());
    land(List.of("3, 'B', date '2026-03-05'"));
    assertEquals(tally(1, 0, 0, 0, 0, 0), one(both[1]).tally());
    assertEquals(List.of("A Amber 2026-03-01 null false", "B null 2026-03-05 null true"), farms());
    assertEquals(1, number("select count(distinct farm_id) from dairy.target"));
    assertEquals(2, proof(both[0]).inLedger());
  }

  @Test
  void aPlaceholderIsCompletedByARowOfLaterOrEarlier() {
    Merge[] both = placeholders();
    land(List.of("1, 'B', date '2026-03-10'", "2, 'C', date '2026-03-10'"));
    run(both[1]);
    land(
        "intake.farm",
        "farms-1",
        List.of(
            "'B', 'Brook', date '2026-03-12', 'member'",
            "'B', 'Brook Weir', date '2026-03-15', 'member'",
            "'C', 'Clairs', date '2026-03-02', 'member'"));
    assertEquals(tally(0, 3, 0, 0, 0, 0), one(both[0]).tally());
    assertEquals(
        List.of(
            "A Amber 2026-03-01 null false",
            "B Brook 2026-03-10 2026-03-15 false",
            "B Brook Weir 2026-03-15 null false",
            "C Clairs 2026-03-02 null false"),
        farms());
    assertEquals(
        List.of(List.of("Brook"), List.of("Clairs")),
        query(
            "select f.name from dairy.target t join dairy.farm f on f.farm_id = t.farm_id"
                + " order by t.k"));
    assertEquals(List.of(), proof(both[0]).chains());
    assertEquals(4, proof(both[0]).inTarget());
    assertEquals(4, proof(both[0]).inLedger());
  }

  @Test
  void aKeyThatWasNotValidThenGetsNoPlaceholder() {
    Merge[] both = placeholders();
    land(List.of("1, 'A', date '2026-02-01'", "2, 'A', date '2026-03-01'", "3, null, null"));
    MergeResult result = one(both[1]);
    assertEquals(tally(2, 0, 0, 0, 0, 1), result.tally());
    assertEquals(List.of("k 1"), result.rejects().get(0).keys());
    assertEquals(List.of("A Amber 2026-03-01 null false"), farms());
  }

  @Test
  void anEndThatComesBeforeItsVersionIsRemembered() {
    Merge[] both = placeholders();
    land("intake.farm", "farms-1", List.of("'D', null, date '2026-03-10', 'closed'"));
    assertEquals(tally(0, 0, 1, 0, 0, 0), one(both[0]).tally());
    land(
        "intake.farm",
        "farms-2",
        List.of(
            "'D', 'Dale', date '2026-03-05', 'member'", "'A', null, date '2026-03-07', 'closed'"));
    assertEquals(tally(1, 0, 0, 0, 1, 0), one(both[0]).tally());
    land("intake.farm", "farms-3", List.of("'A', 'Amber', date '2026-03-09', 'member'"));
    assertEquals(tally(0, 1, 0, 0, 0, 0), one(both[0]).tally());
    assertEquals(
        List.of(
            "A Amber 2026-03-01 2026-03-07 false",
            "A Amber 2026-03-09 null false",
            "D Dale 2026-03-05 2026-03-10 false"),
        farms());
    assertEquals(List.of(), proof(both[0]).chains(), "gaps that an end explains");
  }

  @Test
  void aHistoryMayMarkWhatIsGone() {
    tables(
        "k integer, v integer, status varchar(6), \"at\" date",
        "k integer, v integer, closed boolean, valid_from date, valid_to date, is_current boolean");
    Merge merge =
        latestBy(
            with(
                history(),
                Optional.of(
                    new dev.dusky.core.merge.DeleteMarker(
                        "status", List.of("closed", "sold"), GoneKeys.MARK, Optional.of("closed"))),
                Optional.empty()));
    land(
        List.of(
            "1, 10, 'member', date '2026-03-01'",
            "1, 10, 'sold', date '2026-03-04'",
            "1, 10, 'sold', date '2026-03-06'"));
    assertEquals(tally(1, 0, 1, 0, 1, 0), one(merge).tally());
    assertEquals(
        List.of(List.of(false, "2026-03-01", "2026-03-04"), List.of(true, "2026-03-04", "null")),
        query("select closed, valid_from, valid_to from dairy.target order by valid_from").stream()
            .map(r -> List.of(r.get(0), String.valueOf(r.get(1)), String.valueOf(r.get(2))))
            .toList());
  }

  @Test
  void aBatchInWhichAllIsDeletedEmptiesTheTarget() {
    tables(
        "k integer, ver integer, v integer, gone boolean",
        "k integer primary key, ver integer, v integer");
    Merge merge =
        with(
            new ExistingPolicy.Overwrite(List.of()),
            deleted(GoneKeys.DELETE, null),
            Optional.empty());
    land(List.of("1, 1, 1, false", "2, 1, 1, false", "3, 1, 1, null"));
    assertEquals(tally(3, 0, 0, 0, 0, 0), one(merge).tally());
    land(List.of("1, 2, null, true", "2, 2, null, true", "3, 2, null, true", "4, 2, null, true"));
    assertEquals(tally(0, 0, 1, 0, 3, 0), one(merge).tally());
    assertEquals(0, count("dairy.target"));
    assertEquals(0, proof(merge).inLedger());
  }

  @Test
  void snapshotsAreGuardedAndLateOnesTakeNothingAway() {
    tables(PLAIN, "k integer primary key, ver integer, v integer, ended date");
    Merge merge =
        latestBy(
            with(
                new ExistingPolicy.Overwrite(List.of()),
                Optional.empty(),
                missing(GoneKeys.DELETE, null, 40)));
    land("intake.landed", "day-2", List.of("1, 1, 1", "2, 1, 1", "3, 1, 1", "4, 1, 1"));
    assertEquals(4, one(merge).tally().inserted());
    land("intake.landed", "day-1", List.of("1, 1, 9"));
    assertEquals(new MergeTally(1, 0, 1, 0, 0, 0, 0, 0), one(merge).tally());
    land("intake.landed", "day-3", List.of("1, 1, 1", "2, 1, 1"));
    String guard = message(() -> run(merge));
    assertTrue(guard.contains("2 of 4 live rows"), guard);
    assertEquals(4, count("dairy.target"));
    Merge raised =
        latestBy(
            with(
                new ExistingPolicy.Overwrite(List.of()),
                Optional.empty(),
                missing(GoneKeys.DELETE, null, 50)));
    assertEquals(new MergeTally(2, 0, 1, 1, 0, 0, 0, 2), one(raised).tally());
    assertEquals(2, count("dairy.target"));
    assertEquals(2, proof(raised).inLedger());
  }

  @Test
  void rowsThatAreMendedLaterAreNoSnapshotOfTheirOwn() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    Merge merge =
        latestBy(
            with(
                new ExistingPolicy.Overwrite(List.of()),
                Optional.empty(),
                missing(GoneKeys.DELETE, null, 100)));
    land("intake.landed", "day-1", List.of("1, 1, 1", "2, 1, 1"));
    run(merge);
    long mended = land("intake.landed", "day-1-mended", List.of("3, 1, 1"));
    query("update dusky.tally set state = 'mended' where load_id = " + mended);
    assertEquals(new MergeTally(1, 1, 0, 0, 0, 0, 0, 0), one(merge).tally());
    assertEquals(3, count("dairy.target"));
  }

  @Test
  void nothingIsMadeForAMergeThatCannotBe() {
    tables(PLAIN + ", gone boolean", "k integer primary key, ver integer, v integer");
    land(List.of("1, 1, 1, true"));
    TableName fresh = new TableName("dairy", "fresh");
    Merge base = from(merge(), "fresh", new MergeSource.Landing(LANDED), fresh, true);
    Merge key =
        new Merge(
            "fresh",
            base.source(),
            fresh,
            true,
            List.of("docket"),
            List.of(),
            Map.of(),
            base.existing(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            List.of(),
            Optional.empty(),
            List.of(),
            List.of());
    assertTrue(message(() -> one(key)).contains("key column docket has no column of that name"));
    Lookup nowhere =
        new Lookup(
            "x",
            new TableName("dairy", "nothing"),
            Map.of("k", "s.k"),
            "x",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Reject());
    assertTrue(
        message(() -> one(looking(base, nowhere))).contains("dairy.nothing, which does not exist"));
    assertTrue(warehouse.tables().shape(fresh).isEmpty());
    Merge maybe =
        with(
            new ExistingPolicy.Overwrite(List.of()),
            Optional.of(
                new dev.dusky.core.merge.DeleteMarker(
                    "gone", List.of("maybe"), GoneKeys.DELETE, Optional.empty())),
            Optional.empty());
    String refused = message(() -> one(maybe));
    boolean told = refused.contains("refuses its query or its expressions");
    assertTrue(told || refused.contains("'maybe'"), refused);
  }

  @Test
  void rejectsWhoseRowsAreTakenOutAreNotTriedAgain() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    long gone = land(List.of("null, 1, 1"));
    land(List.of("null, 2, 2"));
    assertEquals(tally(0, 0, 0, 0, 0, 2), one(merge()).tally());
    LoadStart start =
        new LoadStart(LoadKind.REVERSE, "f", "intake.landed", "x", "x", "x", "x", Instant.now());
    warehouse.reversals().evenMerged(m -> {}).load(start, LANDED, gone, false, "wrong");
    execute("update intake.landed set k = 7 where ver = 2");
    MergeResult again =
        merging(warehouse, merge(), start(true, OptionalLong.empty()), t -> {}).get(0);
    assertEquals(tally(1, 0, 0, 0, 0, 0), again.tally());
    assertEquals(0, proof(merge()).rejectsOpen());
  }

  @Test
  void totalsMustBeNumbersThatTheMergeFills() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    land(List.of("1, 1, 1"));
    String said = message(() -> one(newer(merge(), null, List.of("w"))));
    assertTrue(said.contains("totals names w, which is not a number that the merge fills"), said);
  }

  @Test
  void theMomentOfARowAloneMakesNoVersion() {
    tables(
        "k integer, \"at\" date, v integer",
        "k integer, \"at\" date, v integer, valid_from date, valid_to date, is_current boolean");
    Merge merge = latestBy(with(history(), Optional.empty(), Optional.empty()));
    land(List.of("1, date '2026-03-01', 10", "1, date '2026-03-03', 10"));
    assertEquals(tally(1, 0, 1, 0, 0, 0), one(merge).tally());
    land(List.of("1, date '2026-03-05', 10", "1, date '2026-03-07', 11"));
    assertEquals(tally(0, 1, 1, 0, 0, 0), one(merge).tally());
    assertEquals(
        List.of("2026-03-01 10 2026-03-01", "2026-03-07 11 2026-03-07"),
        query("select \"at\", v, valid_from from dairy.target order by valid_from").stream()
            .map(r -> r.get(0) + " " + r.get(1) + " " + r.get(2))
            .toList());
  }

  @Test
  void aHistoryEndsWhatASnapshotLacks() {
    tables(
        "k integer, \"at\" date, v integer",
        "k integer, v integer, valid_from date, valid_to date, is_current boolean");
    Merge merge = latestBy(with(history(), Optional.empty(), missing(GoneKeys.END, null, 100)));
    land("intake.landed", "day-1", List.of("1, date '2026-03-01', 1", "2, date '2026-03-01', 1"));
    land("intake.landed", "day-2", List.of("1, date '2026-03-02', 1"));
    List<MergeResult> results = run(merge);
    assertEquals(new MergeTally(1, 0, 0, 1, 0, 0, 0, 1), results.get(1).tally());
    assertEquals(
        List.of("1 null true", "2 2026-03-02 false"),
        query("select k, valid_to, is_current from dairy.target order by k").stream()
            .map(r -> r.get(0) + " " + r.get(1) + " " + r.get(2))
            .toList());
    assertEquals(List.of(), proof(merge).chains());
  }

  @Test
  void sumsAreFollowedFromLandingToTarget() {
    tables(
        "k integer, ver integer, v decimal(9,1)",
        "k integer primary key, ver integer, v decimal(9,1)");
    Merge merge = newer(merge(), null, List.of("v"));
    execute("insert into dairy.target values (9, 1, 100.5)");
    long load = land(List.of("1, 1, 10.1", "1, 2, 11.3", "2, 1, 20.0", "null, 1, 5.5"));
    totals(load, "46.9");
    run(merge);
    load = land(List.of("1, 3, 12.0", "2, 1, 20.0"));
    totals(load, "32.0");
    run(merge);
    MergeSum sum = proof(merge).sums().get(0);
    assertTrue(sum.agrees(), sum.toString());
    assertEquals(new BigDecimal("78.9"), sum.files());
    assertEquals(new BigDecimal("132.5"), sum.inTarget());
    assertEquals(new BigDecimal("5.5"), sum.rejected());
    assertEquals(new BigDecimal("11.3"), sum.replaced());
    execute("update dairy.target set v = v + 1 where k = 2");
    assertFalse(proof(merge).sums().get(0).agrees());
    execute("delete from dairy.target where k = 9");
    assertEquals(3, proof(merge).inLedger());
    assertEquals(2, proof(merge).inTarget());
  }

  private void totals(long load, String sum) {
    execute(
        "insert into dusky.control_total (load_id, file_id, column_name, loaded_total, other_total) select load_id, file_id, 'v', %s, 0 from dusky.tally where load_id = %d"
            .formatted(sum, load));
  }

  @Test
  void rowsThatAreMergedAreNotReversedUnasked() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    long load = land(List.of("1, 1, 10"));
    run(merge());
    LoadStart start =
        new LoadStart(LoadKind.REVERSE, "f", "intake.landed", "x", "x", "x", "x", Instant.now());
    String refused = message(() -> warehouse.reversals().load(start, LANDED, load, false, "why"));
    assertTrue(refused.contains("1 of the rows are merged into dairy.target"), refused);
    assertEquals(1, count("intake.landed"));
    List<MergedRows> merged = new ArrayList<>();
    warehouse.reversals().evenMerged(merged::add).load(start, LANDED, load, false, "why");
    assertEquals("dairy.target", merged.get(0).into());
    assertEquals(0, count("intake.landed"));
    assertEquals(1, proof(merge()).reversedRows());
    assertTrue(one(merge()).tally().idle(), "what was reversed is not merged again");
  }

  @Test
  void theLedgerAndTheLandingTableMustAgree() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    land(List.of("1, 1, 10", "2, 1, 20"));
    execute("delete from intake.landed where k = 2");
    String said = message(() -> one(merge()));
    assertTrue(said.contains("the ledger has 2 landed rows to merge, the source has 1"), said);
    assertEquals(0, count("dairy.target"));
  }

  @Test
  void theScriptIsReadableAndWhole() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    String script = warehouse.merges().script(merge()).toString();
    assertTrue(script.contains("merge into \"dairy\".\"target\" t using"), script);
    assertTrue(script.contains("-- Rows with a new key."), script);
  }

  @Test
  void largeTablesWithoutAnIndexAreNamed() {
    tables(PLAIN, "k integer, ver integer, v integer");
    List<String> rows = new ArrayList<>();
    for (int i = 0; i < 12_000; i++) {
      rows.add(i + ", 1, 1");
    }
    land(rows);
    run(merge());
    analyze();
    land(List.of("1, 2, 2"));
    assertEquals(
        List.of(
            "create unique index \"target_k\" on \"dairy\".\"target\" (\"k\")",
            "create index \"landed_dusky_load_dusky_file\" on \"intake\".\"landed\" (\"dusky_load\", \"dusky_file\")"),
        one(merge()).advice());
    one(merge()).advice().forEach(this::execute);
  }

  /** Lets the database count its rows. */
  void analyze() {
    execute("analyze");
  }

  private static Lookup farms(Unknown unknown) {
    return new Lookup(
        "farm_id",
        new TableName("dairy", "farm"),
        Map.of("code", "s.code"),
        "id",
        Optional.empty(),
        Optional.empty(),
        unknown);
  }

  private void factTables(String farmId) {
    tables(
        "k integer, ver integer, code varchar(8), v integer",
        "k integer primary key, ver integer, farm_id integer" + farmId + ", v integer");
    execute(
        "create table dairy.farm (id integer generated by default as identity primary key,"
            + " code varchar(8) unique, bare boolean default false)");
    execute("insert into dairy.farm (code) values ('A')");
  }

  @Test
  void rejectedAndOlderFactsMakeNoDimensionMembers() {
    factTables("");
    Merge facts = looking(merge(), farms(new Unknown.Placeholder("bare")));
    land(
        List.of(
            "null, 1, 'NULLKEY', 1",
            "1, 1, 'TIE1', 1",
            "1, 1, 'TIE2', 2",
            "2, 1, 'OLD', 1",
            "2, 2, 'GOOD', 2",
            "3, 1, 'A', 3"));
    MergeResult result = one(facts);
    assertEquals(3, result.tally().rejected());
    assertEquals(
        List.of(List.of("A"), List.of("GOOD")), query("select code from dairy.farm order by code"));
    assertEquals(1, number("select coalesce(sum(added_rows), 0) from dusky.merge_placeholder"));
    assertEquals(List.of(), proof(facts).contradictions());
  }

  @Test
  void aKeyThatIsNullIsNoUnknownKeyWhereNullMayBe() {
    factTables("");
    Merge facts = looking(merge(), farms(new Unknown.Default("-1")));
    land(List.of("1, 1, null, 1", "2, 1, 'NEW', 1", "3, 1, 'A', 1"));
    one(facts);
    assertEquals(
        "[[1, null], [2, -1], [3, 1]]",
        query("select k, farm_id from dairy.target order by k").toString());
    factTables(" not null");
    land(List.of("1, 1, null, 1"));
    one(facts);
    assertEquals("[[1, -1]]", query("select k, farm_id from dairy.target").toString());
  }

  @Test
  void landedColumnsThatNothingTakesAreNamed() {
    tables("k integer, ver integer, v integer, extra varchar(5)", "k integer, ver integer");
    land(List.of("1, 1, 10, 'x'"));
    List<String> spare = one(merge()).spare();
    assertEquals(2, spare.size(), spare.toString());
    assertTrue(
        spare.get(1).startsWith("alter table \"dairy\".\"target\" add column \"extra\""),
        spare.toString());
    Merge mapped = mapping(merge(), Map.of("ver", "s.ver + length(s.extra) + s.v"));
    land(List.of("2, 1, 10, 'x'"));
    assertEquals(List.of(), one(mapped).spare());
  }

  private void cannotFill(Merge merge, String columns, String why) {
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                warehouse
                    .merges()
                    .fill(merge, List.of(columns.split(",")), start(false, OptionalLong.empty())));
    assertTrue(failure.getMessage().contains(why), failure.getMessage());
  }

  @Test
  void whatCannotBeFilledIsSaid() {
    tables("k integer, ver integer, v integer, extra varchar(5)", "k integer, ver integer");
    land(List.of("1, 1, 10, 'x'"));
    one(merge());
    cannotFill(merge(), "k", "not a column that the merge takes");
    cannotFill(merge(), "extra,k", "k is not a column that the merge takes");
    cannotFill(merge(), "nothing", "the source has no column nothing");
    cannotFill(
        with(new ExistingPolicy.Keep(), Optional.empty(), Optional.empty()), "extra", "overwrite");
    cannotFill(
        with(
            new ExistingPolicy.History("ver", "a", "b", Optional.empty(), List.of()),
            Optional.empty(),
            Optional.empty()),
        "extra",
        "has a history");
    assertEquals(2, one(merge()).spare().size(), "nothing was added");
  }

  @Test
  void rejectsOfRowsThatWereReversedAreClosedAndSumsStillAddUp() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    Merge totalled = newer(merge(), null, List.of("v"));
    long load = land(List.of("1, 1, 10", "null, 1, 5"));
    query(
        ("insert into dusky.control_total (load_id, file_id, column_name, loaded_total,"
                + " other_total) select load_id, file_id, 'v', 15, 0 from dusky.tally"
                + " where load_id = %d")
            .formatted(load));
    one(totalled);
    assertEquals(1, proof(totalled).rejectsOpen());
    LoadStart start =
        new LoadStart(LoadKind.REVERSE, "f", "intake.landed", "x", "x", "x", "x", Instant.now());
    warehouse.reversals().evenMerged(merged -> {}).load(start, LANDED, load, false, "wrong file");
    MergeProof proof = proof(totalled);
    assertEquals(0, proof.rejectsOpen());
    assertEquals(BigDecimal.ZERO, proof.sums().get(0).waiting());
    assertTrue(proof.sums().get(0).agrees(), proof.sums().toString());
  }

  @Test
  void snapshotsThatKeepWhatTheyLackAreMerged() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    Merge keeping =
        with(
            new ExistingPolicy.Overwrite(List.of()),
            Optional.empty(),
            missing(GoneKeys.KEEP, null, 10));
    land(List.of("1, 1, 10", "2, 1, 20"));
    land(List.of("1, 2, 11"));
    assertEquals(2, run(keeping).size());
    assertEquals(
        "[[1, 11], [2, 20]]", query("select k, v from dairy.target order by k").toString());
  }

  @Test
  void aSnapshotThatLacksTooMuchIsNamedAndTheOneBeforeItStays() {
    tables(PLAIN, "k integer primary key, ver integer, v integer");
    Merge guarded =
        with(
            new ExistingPolicy.Overwrite(List.of()),
            Optional.empty(),
            missing(GoneKeys.DELETE, null, 10));
    land(List.of("1, 1, 10", "2, 1, 20"));
    land("intake.landed", "second-snapshot", List.of("1, 2, 11"));
    List<MergeResult> done = new ArrayList<>();
    String message =
        message(
            () ->
                warehouse
                    .merges()
                    .run(guarded, start(false, OptionalLong.empty()), t -> {}, done::add));
    assertEquals(1, done.size());
    assertTrue(message.contains("the snapshot second-snapshot lacks too much"), message);
    assertTrue(message.contains("earlier snapshots stay merged"), message);
    assertEquals(2, count("dairy.target"));
  }
}
