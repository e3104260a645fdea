package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.feed.Since;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.KnownFiles;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.load.RetryPolicy;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

/** Files come late, change, are still being written, and are moved away once they are posted. */
abstract class ArrivalContract extends WarehouseTesting {

  private static final Afterwards ARCHIVE = new Afterwards.Archive("done/");

  private final List<String> remarks = new ArrayList<>();

  private static FeedBuilder numbers(String name) {
    return new FeedBuilder(name).column("no", "bigint not null");
  }

  private LoadResult load(Feed feed, MemoryDepot depot, RetryPolicy patience) {
    return load(feed, depot, patience, "declared");
  }

  private LoadResult load(Feed feed, MemoryDepot depot, RetryPolicy patience, String declared) {
    LoadListener listener =
        new LoadListener() {
          @Override
          public void remark(String text) {
            remarks.add(text);
          }
        };
    LoadStart plain = start(feed);
    return new FeedLoader(
            warehouse.ledger(),
            warehouse.tables(),
            LoadRun.of(feed, depot, listener, () -> false).withRetries(patience))
        .run(
            new LoadStart(
                plain.kind(),
                plain.feed(),
                plain.into(),
                declared,
                plain.startedBy(),
                plain.host(),
                plain.toolVersion(),
                plain.at()));
  }

  private List<List<Object>> rows(String table) {
    return query("select no from intake." + table + " order by no");
  }

  @Test
  void aRevisedFileIsDealtWithAsItsFeedSays() {
    for (RevisedPolicy policy : RevisedPolicy.values()) {
      String name = "revised_" + policy.label();
      Feed feed = numbers(name).arrivals(Arrivals.DEFAULT.withRevised(policy)).build();
      MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n2\n");
      load(feed, depot);
      depot.with("a.csv", "no\n2\n3\n4\n");
      LoadResult result = load(feed, depot);
      List<Long> expected =
          switch (policy) {
            case HALT, IGNORE -> List.of(1L, 2L);
            case REPLACE -> List.of(2L, 3L, 4L);
            case APPEND -> List.of(1L, 2L, 2L, 3L, 4L);
          };
      assertEquals(expected.stream().map(n -> List.<Object>of(n)).toList(), rows(name), name);
      assertEquals(policy != RevisedPolicy.HALT, result.clean(), name);
      FeedProof check = warehouse.proofs().feed(name, feed.into(), List.of());
      assertEquals(check.tally().loaded(), check.tableRows(), name);
      assertEquals(List.of(), check.differences(), name);
      LoadResult again = load(feed, depot);
      assertEquals(policy == RevisedPolicy.HALT ? 1 : 0, again.count(FileState.REVISED), name);
      assertEquals(0, again.count(FileState.POSTED), name);
    }
  }

  @Test
  void aRevisedFileThatIsRefusedLeavesWhatWasPosted() {
    Feed feed =
        numbers("worse").arrivals(Arrivals.DEFAULT.withRevised(RevisedPolicy.REPLACE)).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    depot.with("a.csv", "no\nx\n7\n");
    assertEquals(1, load(feed, depot).count(FileState.REFUSED));
    assertEquals(List.of(List.of(1L)), rows("worse"));
    depot.with("a.csv", "no\n1\n");
    assertEquals(0, load(feed, depot).files().size(), "the old content is posted already");
  }

  @Test
  void aRehearsalReplacesAndKeepsNothingOfIt() {
    Feed feed =
        numbers("trial").arrivals(Arrivals.DEFAULT.withRevised(RevisedPolicy.REPLACE)).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    depot.with("a.csv", "no\n5\n6\n");
    LoadResult result =
        rehearsing(
                warehouse,
                (file, outcome, rejects) -> {},
                LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
            .run(start(feed));
    assertEquals(2, result.tally().loaded());
    assertEquals(List.of(List.of(1L)), rows("trial"));
  }

  @Test
  void postedFilesAndTwinsGoToTheArchiveAndRefusedOnesStay() {
    Feed feed =
        numbers("moved")
            .files("in/*")
            .arrivals(
                Arrivals.DEFAULT
                    .withRevised(RevisedPolicy.APPEND)
                    .withAfterwards(new Afterwards.Archive("kept/")))
            .build();
    MemoryDepot depot =
        new MemoryDepot()
            .with("in/a.csv", "no\n1\n")
            .with("in/b.csv", "no\n1\n")
            .with("in/c.csv", "no\nx\n");
    load(feed, depot);
    assertTrue(depot.look("kept/in/a.csv").isPresent());
    assertTrue(depot.look("kept/in/b.csv").isPresent());
    assertFalse(depot.look("in/a.csv").isPresent());
    assertTrue(depot.look("in/c.csv").isPresent());
    depot.with("in/a.csv", "no\n2\n");
    load(feed, depot);
    long file =
        (Long)
            query("select max(file_id) from dusky.file where feed = 'moved' and path = 'in/a.csv'")
                .get(0)
                .get(0);
    assertTrue(depot.look("kept/in/a.csv").isPresent(), "the first one stays");
    assertTrue(depot.look("kept/in/a.csv." + file).isPresent(), "a second one is kept beside it");
  }

  @Test
  void whatADeadProcessDidNotMoveIsMovedByTheNextOne() {
    Feed feed =
        numbers("crash").files("in/*").arrivals(Arrivals.DEFAULT.withAfterwards(ARCHIVE)).build();
    MemoryDepot depot = new MemoryDepot().with("in/a.csv", "no\n1\n").with("in/b.csv", "no\n2\n");
    depot.immovable(true);
    load(feed, depot, RetryPolicy.lasting(System::nanoTime));
    assertEquals(List.of(List.of(1L), List.of(2L)), rows("crash"));
    assertTrue(
        remarks.get(0).contains("in/a.csv is posted but still in the depot"), remarks.get(0));
    assertEquals(2, warehouse.ledger().due("crash").size());
    depot.immovable(false);
    depot.with("in/b.csv", "no\n3\n"); // another one by now: it must not be moved unread
    load(feed, depot);
    assertTrue(depot.look("done/in/a.csv").isPresent());
    assertEquals(List.of(), warehouse.ledger().due("crash"));
    assertEquals(List.of(List.of(1L), List.of(2L)), rows("crash"), "revised files halt");
    assertTrue(depot.look("in/b.csv").isPresent());
  }

  @Test
  void aFeedMayRemoveWhatItPosted() {
    Feed feed =
        numbers("gone").arrivals(Arrivals.DEFAULT.withAfterwards(new Afterwards.Remove())).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    assertFalse(depot.look("a.csv").isPresent());
  }

  @Test
  void onlyDaysSinceTheFirstOneAreListed() {
    Arrivals since =
        Arrivals.DEFAULT.withSince(new Since("day", Optional.of(LocalDate.of(2026, 3, 2)), 0));
    MemoryDepot depot = new MemoryDepot();
    for (String region : List.of("east", "west")) {
      for (int i = 0; i < 400; i++) {
        depot.with("%s/2026-02-%02d/%d.csv".formatted(region, i % 28 + 1, i), "no\n1\n");
      }
      depot.with(region + "/2026-03-02/" + region + ".csv", "no\n1" + region.length() + "\n");
    }
    Feed feed = numbers("recent").files("*/{day:date}/*.csv").arrivals(since).build();
    load(feed, depot);
    assertEquals(2, count("dusky.file where feed = 'recent'"));
    assertEquals(List.of("", "east/2026-03-01~", "west/2026-03-01~"), depot.listings());
    Feed east = numbers("east").files("east/{day:date}/*.csv").arrivals(since).build();
    depot.listings().clear();
    assertEquals(1, load(east, depot).count(FileState.POSTED));
    assertEquals(List.of("east/2026-03-01~"), depot.listings(), "nothing old is gone through");
  }

  @Test
  void whatAPersonHasToLookAtIsTriedAgainOnceSomethingChanged() {
    Feed feed = numbers("stuck").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\nx\n");
    RetryPolicy patience = RetryPolicy.lasting(System::nanoTime);
    assertEquals(1, load(feed, depot, patience).count(FileState.REFUSED));
    LoadResult second = load(feed, depot, patience);
    assertEquals(0, second.loadId(), "no load for nothing");
    assertEquals(1, second.aside().stuck());
    assertEquals(1, depot.opened("a.csv"));
    assertEquals(1, load(feed, depot, patience, "other").count(FileState.REFUSED), "feed changed");
    assertEquals(0, load(feed, depot, patience, "other").loadId());
    assertEquals(1, load(feed, depot).count(FileState.REFUSED), "a person asked");
    depot.with("a.csv", "no\n1\n");
    assertEquals(1, load(feed, depot, patience).count(FileState.POSTED), "the file changed");
  }

  @Test
  void aFileThatIsStillWrittenIsLeftUntilItIsQuiet() {
    Feed feed =
        numbers("quiet")
            .arrivals(
                Arrivals.DEFAULT.withReady(
                    new Readiness(Duration.ofDays(20_000), Optional.empty())))
            .build();
    AtomicLong nanos = new AtomicLong();
    RetryPolicy patience = RetryPolicy.lasting(nanos::get);
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    assertEquals(1, load(feed, depot, patience).aside().unready());
    nanos.addAndGet(Duration.ofDays(19_999).toNanos());
    assertEquals(1, load(feed, depot, patience).aside().unready());
    depot.with("a.csv", "no\n1\n2\n");
    nanos.addAndGet(Duration.ofDays(1).toNanos());
    assertEquals(1, load(feed, depot, patience).aside().unready(), "it changed meanwhile");
    nanos.addAndGet(Duration.ofDays(20_000).toNanos());
    assertEquals(2, load(feed, depot, patience).tally().loaded());
    depot.with("b.csv", "no\n3\n");
    assertEquals(1, load(feed, depot).aside().unready(), "by the file's own time");
  }

  @Test
  void aMarkerTellsThatAFileIsWhole() {
    Readiness marked = new Readiness(Duration.ZERO, Optional.of("{folder}_done"));
    Feed feed =
        numbers("marked").files("*/*.csv").arrivals(Arrivals.DEFAULT.withReady(marked)).build();
    MemoryDepot depot = new MemoryDepot().with("x/a.csv", "no\n1\n").with("y/a.csv", "no\n2\n");
    depot.with("x/_done", "");
    LoadResult result = load(feed, depot);
    assertEquals(1, result.count(FileState.POSTED));
    assertEquals(1, result.aside().unready());
  }

  @Test
  void aFileThatIsGoneOrChangedSinceItWasListedStopsNothing() {
    Feed feed = numbers("fleeting").build();
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", "no\n1\n")
            .with("b.csv", "no\n2\n")
            .with("c.csv", "no\n3\n");
    depot.beforeOpening(
        () -> {
          depot.remove("a.csv");
          depot.with("b.csv", "no\n20\n");
        });
    LoadResult result = load(feed, depot);
    assertEquals(2, result.aside().changed());
    assertEquals(0, result.claimed());
    assertEquals(List.of(List.of(3L)), rows("fleeting"));
    depot.beforeOpening(() -> {});
    load(feed, depot);
    assertEquals(List.of(List.of(3L), List.of(20L)), rows("fleeting"));
  }

  @Test
  void aListingThatBreaksOffLosesNothing() {
    Feed feed = numbers("broken").build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 12; i++) {
      depot.with("%02d.csv".formatted(i), "no\n%d\n".formatted(i));
    }
    depot.breakListingBehind(9);
    Failure failure = assertThrows(Failure.class, () -> load(feed, depot));
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertEquals(
        List.of(List.of("failed")), query("select state from dusky.load where feed = 'broken'"));
    depot.breakListingBehind(Integer.MAX_VALUE);
    load(feed, depot);
    assertEquals(12, rows("broken").size());
    assertEquals(12, count("dusky.file where feed = 'broken' and state = 'posted'"));
  }

  @Test
  void twoFeedsOverTheSameFilesEachTakeThemOnce() {
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n").with("b.csv", "no\n2\n");
    Feed one = numbers("one_of_two").build();
    Feed two = numbers("two_of_two").build();
    for (int i = 0; i < 2; i++) {
      load(one, depot);
      load(two, depot);
    }
    assertEquals(rows("one_of_two"), rows("two_of_two"));
    assertEquals(2, rows("one_of_two").size());
  }

  @Test
  void aPausedFeedIsLeftAlone() {
    Feed feed = numbers("held").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    Pause pause =
        new Pause(
            Instant.parse("2026-03-02T06:00:00Z"), "ada", "gate", "the sender sends nonsense");
    assertTrue(warehouse.ledger().feeds().pause("held", pause));
    assertFalse(warehouse.ledger().feeds().pause("held", pause), "held already");
    LoadResult result = load(feed, depot);
    assertTrue(result.idle());
    assertEquals(Optional.of(pause.toString()), result.aside().pause());
    assertEquals(0, depot.opened("a.csv"));
    assertTrue(warehouse.ledger().feeds().resume("held", "bob"));
    assertFalse(warehouse.ledger().feeds().resume("held", "bob"));
    assertEquals(1, load(feed, depot).count(FileState.POSTED));
  }

  private void seen(String feed, String path, String version, String state) {
    query(
        "insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)"
            + " values ('%s', '%s', '%s', '%s', 1, current_timestamp, current_timestamp)"
                .formatted(feed, path, version, state));
  }

  @Test
  void versionsThatWereReplacedBeforeTheyWereDealtWithAreForgotten() {
    Feed feed = numbers("overtaken").build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 5; i++) {
      depot.with("a%d.csv".formatted(i), "no\n%d\n".formatted(i));
      seen("overtaken", "a%d.csv".formatted(i), "old", "waiting");
      seen("overtaken", "a%d.csv".formatted(i), "older", "waiting");
    }
    seen("overtaken", "b.csv", "old", "waiting");
    seen("other", "a1.csv", "old", "waiting");
    load(feed, depot);
    assertEquals(5, count("dusky.file where feed = 'overtaken' and state = 'posted'"));
    assertEquals(
        0, count("dusky.file where feed = 'overtaken' and path <> 'b.csv' and state = 'waiting'"));
    assertEquals(1, count("dusky.file where feed = 'overtaken' and path = 'b.csv'"));
    assertEquals(1, count("dusky.file where feed = 'other'"));
    seen("overtaken", "c.csv", "old", "waiting");
    depot.with("c.csv", "no\n77\n"); // one alone
    load(feed, depot);
    assertEquals(1, count("dusky.file where feed = 'overtaken' and path = 'c.csv'"));
    assertEquals(
        List.of(), warehouse.proofs().feed("overtaken", feed.into(), List.of()).differences());
  }

  @Test
  void manySmallFilesShareTransactionsAndKeepTheirOwnAccounts() {
    Feed feed = numbers("small").tolerance("1").build();
    MemoryDepot depot = new MemoryDepot().with("a0.csv", "no\n-1\n");
    load(feed, depot);
    depot.with("a1.csv", "no\n-1\n"); // a twin of what is posted makes all go one by one
    for (int i = 0; i < 9; i++) {
      depot.with("b%d.csv".formatted(i), "no\n%d\n".formatted(i));
    }
    List<dev.dusky.core.load.FileResult> results = new ArrayList<>();
    load(warehouse, feed, depot, results);
    assertEquals(10, results.size());
    assertEquals(FileState.TWIN, results.get(0).state());
    int many = files(600);
    for (int i = 0; i < many; i++) {
      String text =
          i % 50 == 7 ? "no\nx\ny\n" : "no\n%d\n%s\n".formatted(1000 + i, i % 40 == 3 ? "x" : -i);
      depot.with("c%03d.csv".formatted(i), i % 100 == 50 ? "no\n1002\n-2\n" : text);
    }
    results.clear();
    LoadResult result = load(warehouse, feed, depot, results);
    int posted = many - many / 50 - many / 100;
    assertEquals(many, results.size());
    assertEquals(many / 50, result.count(FileState.REFUSED));
    assertEquals(many / 100, result.count(FileState.TWIN));
    assertEquals(posted, result.count(FileState.POSTED));
    assertEquals("c002.csv", results.get(2).file().path());
    assertTrue(results.get(50).message().contains("same content as c002.csv"));
    long rejected = result.tally().rejected();
    assertEquals(posted * 2 - rejected, result.tally().loaded());
    assertEquals(10 + result.tally().loaded(), count("intake.small"));
    assertEquals(rejected + many / 25, rejects("small").size());
    FeedProof check = warehouse.proofs().feed("small", feed.into(), List.of());
    assertEquals(List.of(), check.differences());
    assertEquals(check.tally().loaded(), check.tableRows());
  }

  @Test
  void smallFilesWithMuchInThemAreSentWhileOthersAreRead() {
    Feed feed = numbers("swollen").column("note", "text").tolerance("0").build();
    MemoryDepot depot = new MemoryDepot();
    String note = "m".repeat(100_000);
    int many = files(120);
    for (int i = 0; i < many; i++) {
      String wrong = i % 11 == 5 ? "x,bad\n" : "";
      depot.with("%03d.csv".formatted(i), "no,note\n%d,%s\n%s".formatted(i, note, wrong));
    }
    LoadResult result = load(feed, depot);
    int refused = (many + 5) / 11;
    long posted = many - refused;
    assertEquals(refused, result.count(FileState.REFUSED));
    assertEquals(posted, result.count(FileState.POSTED));
    assertEquals(
        List.of(List.of(posted, posted * 100_000)),
        query("select count(*), cast(sum(char_length(note)) as bigint) from intake.swollen"));
    assertEquals(refused, rejects("swollen").size());
  }

  @Test
  void aRowThatTheTableRefusesMakesSmallFilesGoOneByOne() {
    needsRules();
    execute("create schema if not exists intake");
    execute(
        "create table intake.keyed (no bigint primary key, dusky_load bigint, dusky_file bigint,"
            + " dusky_row bigint)");
    Feed feed = numbers("keyed").existing().build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 8; i++) {
      depot.with("%d.csv".formatted(i), "no\n%d\n%d\n".formatted(i, i == 5 ? 2 : 100 + i));
    }
    LoadResult result = load(feed, depot);
    assertEquals(7, result.count(FileState.POSTED));
    assertEquals(1, result.count(FileState.REFUSED));
    assertEquals(14, count("intake.keyed"));
    assertEquals("key-taken", rejects("keyed").get(0).reject().problems().get(0).code().label());
  }

  @Test
  void listingAndLedgerAgreeWhateverEachHas() {
    Random random = new Random(6);
    String alphabet = "ab/-~\u00e9\uff5e\ud83d\ude00";
    for (int round = 0; round < 6; round++) {
      String name = "cursor" + round;
      Feed feed = numbers(name).build();
      TreeSet<String> known = new TreeSet<>();
      MemoryDepot depot = new MemoryDepot();
      for (int i = 0; i < 700; i++) {
        StringBuilder path = new StringBuilder("f");
        for (int c = 0; c < 1 + random.nextInt(6); c++) {
          int at = alphabet.offsetByCodePoints(0, random.nextInt(8));
          path.appendCodePoint(alphabet.codePointAt(at));
        }
        if (random.nextInt(10) < 2 + round) {
          known.add(path.toString());
        }
        if (random.nextInt(10) < 7 - round) {
          depot.with(path.toString(), "no\n1\n");
        }
      }
      for (String path : known) {
        int versions = 1 + random.nextInt(2);
        for (int v = 0; v < versions; v++) {
          query(
              "insert into dusky.file (feed, path, version, state, size_bytes, modified_at,"
                  + " seen_at) values ('%s', '%s', '%d', 'posted', 1, current_timestamp,"
                      .formatted(name, path, v)
                  + " current_timestamp)");
        }
      }
      KnownFiles states = new KnownFiles(warehouse.ledger(), depot, feed, Instant.now());
      while (states.hasNext()) {
        var file = states.next();
        assertEquals(
            known.contains(file.file().path()) ? FileState.REVISED : FileState.WAITING,
            file.state(),
            file.file().path());
      }
    }
  }

  @Test
  void aFailureAfterTheLoadIsDoneIsToldAndTheLoadStaysDone() {
    Feed feed =
        numbers("after").files("in/*").arrivals(Arrivals.DEFAULT.withAfterwards(ARCHIVE)).build();
    MemoryDepot depot = new MemoryDepot().with("in/a.csv", "no\n1\n");
    depot.onMove(
        () -> {
          throw Failure.warehouse("the disk of the ledger is full");
        });
    Failure failure = assertThrows(Failure.class, () -> load(feed, depot));
    assertTrue(failure.getMessage().contains("the disk of the ledger"), failure.getMessage());
    assertEquals("done", query("select state from dusky.load where feed = 'after'").get(0).get(0));
    assertEquals(1, warehouse.ledger().due("after").size());
  }

  @Test
  void anArchivedFileTakesAnotherNameWhereOneIsTakenByOthers() {
    Feed feed =
        numbers("kept").files("in/*").arrivals(Arrivals.DEFAULT.withAfterwards(ARCHIVE)).build();
    MemoryDepot depot =
        new MemoryDepot().with("in/a.csv", "no\n1\n").with("done/in/a.csv", "somebody else's");
    load(feed, depot, RetryPolicy.lasting(System::nanoTime));
    assertEquals(15, depot.look("done/in/a.csv").orElseThrow().size());
    String target =
        (String)
            query(
                    "select target from dusky.afterwards a join dusky.file f"
                        + " on f.file_id = a.file_id where f.feed = 'kept'")
                .get(0)
                .get(0);
    assertTrue(target.startsWith("done/in/a.csv."), target);
    assertTrue(depot.look(target).isPresent());
    assertTrue(remarks.get(0).contains("is archived as " + target), remarks.toString());
  }

  @Test
  void filesDatedInTheFutureAreToldAndTakenWhenTheyNoLongerChange() {
    Feed feed =
        numbers("future")
            .arrivals(
                Arrivals.DEFAULT.withReady(
                    new dev.dusky.core.feed.Readiness(
                        java.time.Duration.ofMinutes(5), Optional.empty())))
            .build();
    long[] nanos = {0};
    RetryPolicy patience = RetryPolicy.lasting(() -> nanos[0]);
    MemoryDepot depot =
        new MemoryDepot()
            .dated(java.time.Instant.now().plusSeconds(86_400))
            .with("a.csv", "no\n1\n");
    load(feed, depot, patience);
    assertTrue(patience.undated());
    assertTrue(remarks.get(0).contains("which is in the future"), remarks.toString());
    assertEquals(List.of(), rows("future"));
    nanos[0] = 301_000_000_000L;
    load(feed, depot, patience);
    assertEquals(List.of(List.of(1L)), rows("future"));
  }
}
