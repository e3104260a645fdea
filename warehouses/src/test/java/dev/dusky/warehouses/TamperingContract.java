package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.table.TableName;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Whatever somebody changes by hand in ledger, landing table or target, the proof finds it. */
abstract class TamperingContract extends MergeTesting {

  private static final String DIRTY = "no,v\n1,1\n2,2\n3,3\n3,3\nx,4\n5,y\n6,6\n";

  private Feed feed;

  @BeforeEach
  void load() {
    clean();
    Feed plain =
        new FeedBuilder("told")
            .column("no", "integer")
            .column("v", "integer")
            .tolerance("9")
            .build();
    feed =
        plain.withPolicies(
            plain
                .policies()
                .withRepeats(
                    new RepeatPolicy(
                        true,
                        List.of("no"),
                        RepeatPolicy.Scope.FILE,
                        RepeatPolicy.Keep.FIRST,
                        List.of(),
                        RepeatPolicy.DEFAULT_MEMORY)));
    load(feed, new MemoryDepot().with("a.csv", DIRTY).with("b.csv", "no,v\n7,7\n8,8\n"));
    assertEquals(List.of(), check().contradictions());
    assertEquals(List.of(), check().differences());
  }

  private FeedProof check() {
    return warehouse.proofs().feed("told", feed.into(), List.of());
  }

  private void assertFound(String words, String... statements) {
    for (String sql : statements) {
      query(sql);
    }
    FeedProof check = check();
    String all = check.contradictions() + " " + check.differences();
    assertTrue(all.contains(words), all);
  }

  @Test
  void aPostedFileThatIsSetToWaitingIsNotPostedTwice() {
    assertFound("is waiting in dusky.file, and posted", "update dusky.file set state = 'waiting'");
    long rows = count("intake.told");
    Failure failure =
        assertThrows(Failure.class, () -> load(feed, new MemoryDepot().with("a.csv", DIRTY)));
    assertEquals(Failure.Kind.LEDGER, failure.kind());
    assertTrue(failure.getMessage().contains("a.csv"), failure.getMessage());
    assertEquals(rows, count("intake.told"));
  }

  @Test
  void theSchemaItselfForbidsASecondPosting() {
    long load = number("select max(load_id) from dusky.load");
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                query(
                    ("insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows,"
                            + " duplicate_rows, rejected_rows, filtered_rows, withheld_rows,"
                            + " stored_bytes, content_bytes, elapsed_ms, written_at)"
                            + " select (select min(load_id) from dusky.load), file_id, 'posted',"
                            + " 0, 0, 0, 0, 0, 0, 0, 0, 0, written_at from dusky.tally"
                            + " where load_id = %d and state = 'posted'")
                        .formatted(load)));
    assertTrue(failure.getMessage().toLowerCase().contains("tally"), failure.getMessage());
  }

  @Test
  void aRowDeletedWhereAnotherWasCopiedIsFound() {
    assertFound(
        "twice=1",
        "delete from intake.told where no = 1",
        "insert into intake.told select * from intake.told where no = 2");
  }

  @Test
  void duplicatesBookedAsFilteredAreFound() {
    assertFound(
        "was changed since it was written",
        "update dusky.tally set duplicate_rows = 0, filtered_rows = 1 where duplicate_rows = 1"
            + " and reversed_by is null");
  }

  @Test
  void repeatsThatAreGoneAreFound() {
    assertFound("dusky.repeat has 0", "delete from dusky.repeat");
  }

  @Test
  void reasonsThatAreGoneAreFound() {
    assertFound(
        "has 0 of its 1 problems",
        "delete from dusky.reject_problem where reject_id = (select max(reject_id)"
            + " from dusky.reject)");
  }

  @Test
  void aRejectMendedByNobodyIsFound() {
    assertFound(
        "no load has mended it",
        "update dusky.reject set state = 'mended', settled_at = current_timestamp,"
            + " settled_by = 'x', settled_load = load_id where reject_id ="
            + " (select max(reject_id) from dusky.reject)");
  }

  private static Merge facts() {
    return looking(
        merge(),
        new Lookup(
            "farm_id",
            new TableName("dairy", "farm"),
            new LinkedHashMap<>(Map.of("code", "s.code")),
            "id",
            Optional.empty(),
            Optional.empty(),
            new Unknown.Reject()));
  }

  private List<String> merged(String... statements) {
    clean();
    tables(
        "k integer, ver integer, code varchar(8)",
        "k integer primary key, ver integer, farm_id integer");
    execute("create table dairy.farm (id integer primary key, code varchar(8) unique)");
    execute("insert into dairy.farm values (1, 'A'), (2, 'B')");
    land(List.of("1, 1, 'A'", "2, 1, 'B'", "3, 1, 'A'"));
    one(facts());
    assertEquals(List.of(), warehouse.proofs().merge(facts()).orElseThrow().contradictions());
    for (String sql : statements) {
      query(sql);
    }
    return warehouse.proofs().merge(facts()).orElseThrow().contradictions();
  }

  @Test
  void tamperedMergesAreFound() {
    assertTrue(
        merged("update dairy.target set farm_id = 77 where k = 2")
            .toString()
            .contains("1 rows have a farm_id that does not exist as id of dairy.farm"));
    assertTrue(merged("delete from dusky.merge_file").toString().contains("took 3 rows"));
    assertTrue(
        merged("update dusky.merge_run set inserted_rows = 2, unchanged_rows = 1")
            .toString()
            .contains("was changed since it was written"));
    assertFalse(merged().toString().contains("changed"));
  }
}
