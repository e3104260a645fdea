package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.SourceRun;
import dev.dusky.core.ledger.SourceRuns;
import dev.dusky.core.source.Source;
import dev.dusky.core.source.SourceListener;
import dev.dusky.core.source.SourceResult;
import dev.dusky.core.source.SourceStager;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stream.StreamName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.source.JdbcSourceDatabases;
import java.io.InputStream;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows of a database become files, each new row in at least one and its last form always. */
abstract class SourceContract extends WarehouseTesting {

  @TempDir Path folder;
  private final List<String> remarks = new ArrayList<>();
  private final MemoryDepot depot = new MemoryDepot();

  private Source source(String name, String query, Optional<Source.Newer> newer, int slices) {
    DatabaseSettings settings = settings();
    return new Source(
        name,
        new Source.Address(
            settings.url(),
            settings.user().or(() -> Optional.of("dusky")),
            Optional.empty(),
            Optional.empty()),
        query,
        newer,
        slices == 0 ? Optional.empty() : Optional.of(new Source.Slices("id", slices)),
        new StreamName(name + "/{n}.jsonl"),
        new StreamName("manifests/" + name + "/{n}.json"),
        2_000);
  }

  private DatabaseSettings settings() {
    try {
      return address();
    } catch (Exception e) {
      throw new AssertionError(e);
    }
  }

  private static Optional<Source.Newer> newer(String column, Duration overlap) {
    return Optional.of(new Source.Newer(column, overlap, 0));
  }

  private SourceResult stage(Source source, Depot into) {
    return stage(source, into, false, false);
  }

  private SourceResult stage(Source source, Depot into, boolean all, boolean newShape) {
    return stage(source, into, warehouse.ledger().sources(), all, newShape);
  }

  private SourceResult stage(
      Source source, Depot into, SourceRuns runs, boolean all, boolean newShape) {
    return new SourceStager(
            source,
            into,
            runs,
            new SourceStager.Plan(all, newShape, 1, Set.of("amount")),
            new Listener(),
            () -> false)
        .run(folder.resolve(source.name()), "tester", "here", new JdbcSourceDatabases());
  }

  private final class Listener implements SourceListener {
    @Override
    public void read(long rows) {}

    @Override
    public void remark(String text) {
      remarks.add(text);
    }

    @Override
    public void sent(long bytes) {}

    @Override
    public void done(LocalFile file, Outcome outcome, String why) {}
  }

  /** The lines of the files under a folder of the depot, in the order of their paths. */
  private List<String> lines(String under) throws Exception {
    List<String> lines = new ArrayList<>();
    for (Iterator<StagedFile> files = depot.list(under, ""); files.hasNext(); ) {
      try (InputStream in = depot.open(files.next())) {
        new String(in.readAllBytes(), StandardCharsets.UTF_8).lines().forEach(lines::add);
      }
    }
    return lines;
  }

  private String high(String source) {
    return warehouse.ledger().sources().last(source).flatMap(SourceRun::highWater).orElse("");
  }

  /** Stages all rows of a query and gives the lines of its files. */
  final List<String> staged(String name, String query) {
    stage(source(name, query, Optional.empty(), 0), depot);
    try {
      return lines(name);
    } catch (Exception e) {
      throw new AssertionError(e);
    }
  }

  static String failed(Runnable work) {
    return assertThrows(Failure.class, work::run).getMessage();
  }

  @Test
  void everyTypeKeepsItsExactValue() throws Exception {
    execute(
        "create table everything (id bigint, s smallint, i integer, b boolean, a decimal(30,10),"
            + " r real, d double precision, c varchar(20), on_day date, t time(6), ts timestamp(6),"
            + " tz timestamp(6) with time zone, u uuid, bin "
            + bytes()
            + ")");
    query(
        "insert into everything values (9223372036854775807, -32768, 2147483647, true,"
            + " 12345678901234567890.0123456789, 0.1, 1e300, 'a \"b\" \u00e9', date '0001-01-01',"
            + " time '23:59:59.999999', timestamp '9999-12-31 23:59:59.999999',"
            + " timestamp with time zone '2026-03-29 02:30:00.000001+02',"
            + " cast('00112233-4455-6677-8899-aabbccddeeff' as uuid), "
            + bytes("00ff0a")
            + ")");
    query("insert into everything (id) values (null)");
    stage(
        source("everything", "select * from everything order by id desc;", Optional.empty(), 0),
        depot);
    List<String> lines = new ArrayList<>(lines("everything"));
    lines.removeIf(line -> line.startsWith("{\"id\":null"));
    assertEquals(
        List.of(
            "{\"id\":9223372036854775807,\"s\":-32768,\"i\":2147483647,\"b\":true,"
                + "\"a\":12345678901234567890.0123456789,\"r\":0.1,\"d\":1.0E300,"
                + "\"c\":\"a \\\"b\\\" \u00e9\",\"on_day\":\"0001-01-01\",\"t\":\"23:59:59.999999\","
                + "\"ts\":\"9999-12-31 23:59:59.999999\",\"tz\":\"2026-03-29 00:30:00.000001Z\","
                + "\"u\":\"00112233-4455-6677-8899-aabbccddeeff\",\"bin\":\"00ff0a\"}"),
        lines);
    assertTrue(
        lines("everything").stream().anyMatch(line -> line.matches("\\{(\"\\w+\":null,?)+}")),
        "a row of nothing is a row");
  }

  /** The type of bytes. */
  abstract String bytes();

  /** A literal of that type. */
  abstract String bytes(String hex);

  @Test
  void newRowsAndLateOnesComeAndTheHighWaterNeverGoesBack() throws Exception {
    execute("create table moving (id bigint, v integer, at timestamp(6))");
    Source source =
        source("moving", "select id, v, at from moving", newer("at", Duration.ofMinutes(10)), 0);
    Random random = new Random(5);
    LocalDateTime clock = LocalDateTime.parse("2026-03-01T10:00:00");
    Set<String> written = new HashSet<>();
    String high = "";
    for (int round = 0; round < 12; round++) {
      for (int n = random.nextInt(4); n > 0; n--) {
        // Up to nine minutes late, often of the very same time as others.
        LocalDateTime at = clock.minusMinutes(random.nextInt(10));
        int id = random.nextInt(20);
        query("delete from moving where id = " + id);
        query("insert into moving values (%d, %d, timestamp '%s')".formatted(id, round, at));
        written.add("{\"id\":%d,\"v\":%d,".formatted(id, round));
      }
      // What is overwritten before it is staged never shows; everything else does.
      written.removeIf(w -> !shows(w));
      stage(source, depot);
      assertTrue(high("moving").compareTo(high) >= 0, high("moving") + " after " + high);
      high = high("moving");
      clock = clock.plusSeconds(random.nextInt(60));
    }
    List<String> lines = lines("moving");
    for (String row : written) {
      assertTrue(lines.stream().anyMatch(line -> line.startsWith(row)), row);
    }
    SourceResult idle = stage(source, depot);
    assertTrue(stage(source, depot).run().isEmpty() || idle.run().isPresent());
    assertEquals(Optional.empty(), stage(source, depot).run(), "nothing new is no file");
    int before = lines("moving").size();
    stage(source, depot, true, false);
    assertEquals(before + count("moving"), lines("moving").size(), "--all takes them all");
    assertEquals(high, high("moving"));
  }

  private boolean shows(String row) {
    String[] values = row.replaceAll("[^0-9,]", "").split(",");
    return !query("select 1 from moving where id = %s and v = %s".formatted(values[0], values[1]))
        .isEmpty();
  }

  @Test
  void aStampInTheFutureDoesNotHideWhatComesBeforeIt() throws Exception {
    execute("create table ahead (id bigint, at timestamp(6) with time zone)");
    query("insert into ahead values (1, timestamp with time zone '2999-01-01 00:00:00+00')");
    query("insert into ahead values (2, null)");
    Source source = source("ahead", "select * from ahead", newer("at", Duration.ZERO), 0);
    stage(source, depot);
    assertTrue(remarks.toString().contains("in the future"), remarks.toString());
    assertTrue(remarks.toString().contains("1 rows of source ahead have no at"), "" + remarks);
    query("insert into ahead values (3, timestamp with time zone '2998-01-01 00:00:00+00')");
    stage(source, depot);
    assertTrue(lines("ahead").toString().contains("{\"id\":3,"));
  }

  @Test
  void numbersAndDatesCanBeHighWatersToo() throws Exception {
    execute("create table counted (id bigint, n decimal(20,2), on_day date)");
    query("insert into counted values (1, 5.25, date '2026-03-01'), (2, 7.50, date '2026-03-02')");
    Source number =
        source(
            "bynumber",
            "select * from counted",
            Optional.of(new Source.Newer("n", Duration.ZERO, 1)),
            0);
    stage(number, depot);
    assertEquals("7.50", high("bynumber"));
    query("insert into counted values (3, 6.50, date '2026-03-02'), (4, 6.49, date '2026-03-02')");
    assertEquals(Optional.of("6.50"), stage(number, depot).from());
    assertEquals(2, lines("bynumber/000002").size(), "7.50 again, and 6.50");
    Source day = source("byday", "select * from counted", newer("ON_DAY", Duration.ofDays(1)), 0);
    stage(day, depot);
    assertEquals(Optional.of("2026-03-01"), stage(day, depot).from());
    String text =
        failed(
            () ->
                stage(
                    source(
                        "bytext",
                        "select cast(id as varchar) as id from counted",
                        newer("id", Duration.ZERO),
                        0),
                    depot));
    assertTrue(text.contains("cannot tell newer rows by id"), text);
  }

  @Test
  void slicesHaveEveryRowOnce() throws Exception {
    execute("create table sliced (id bigint, v varchar(40))");
    query("insert into sliced values (null, 'none'), (-9000000000, 'least'), (7, 'x'), (7, 'y')");
    StringBuilder more = new StringBuilder("insert into sliced values (1000, 'z')");
    for (int i = 0; i < 500; i++) {
      more.append(", (").append(i * 37 % 1000).append(", 'row ").append(i).append("')");
    }
    query(more.toString());
    for (int slices : new int[] {0, 2, 7, 64}) {
      String name = "sliced" + slices;
      stage(source(name, "select * from sliced", Optional.empty(), slices), depot);
      List<String> lines = lines(name);
      assertEquals(505, lines.size(), name);
      assertEquals(505, new HashSet<>(lines).size(), name);
    }
    query("delete from sliced");
    SourceResult none = stage(source("none", "select * from sliced", Optional.empty(), 3), depot);
    assertEquals(Optional.empty(), none.run());
  }

  /** The depot until that many files were stored; then it fails. */
  private Depot failingAfter(int puts) {
    int[] left = {puts};
    return (Depot)
        Proxy.newProxyInstance(
            getClass().getClassLoader(),
            new Class<?>[] {Depot.class},
            (proxy, method, arguments) -> {
              if (method.getName().equals("put") && left[0]-- == 0) {
                throw Failure.depot("the line is dead");
              }
              try {
                return method.invoke(depot, arguments);
              } catch (InvocationTargetException e) {
                throw e.getCause();
              }
            });
  }

  @Test
  void aRunThatStopsBetweenFilesIsContinuedWithTheSameFiles() throws Exception {
    execute("create table stops (id bigint, amount decimal(9,2), pad varchar(200))");
    for (int i = 0; i < 40; i++) {
      query("insert into stops values (%d, %d.50, '%s')".formatted(i, i, "x".repeat(150)));
    }
    int files = 0;
    boolean stopped = true;
    for (int puts = 0; stopped; puts++) {
      String name = "stops" + puts;
      Source source = source(name, "select * from stops order by id", Optional.empty(), 4);
      Depot failing = failingAfter(puts);
      try {
        stage(source, failing);
        stopped = false;
      } catch (Failure failure) {
        assertEquals(Optional.empty(), warehouse.ledger().sources().last(name));
        SourceResult rest = stage(source, depot);
        assertTrue(rest.continued());
      }
      assertEquals(40, lines(name).size(), name);
      assertEquals(40, new HashSet<>(lines(name)).size(), name);
      SourceRun run = warehouse.ledger().sources().last(name).orElseThrow();
      assertEquals(40, run.rows());
      String manifest = String.join("", lines(run.manifest()));
      assertTrue(manifest.contains("\"totals\": {\"amount\": "), manifest);
      assertEquals(run.files(), manifest.split("\"path\"").length - 1);
      files = run.files();
      try (Stream<Path> left = Files.list(folder.resolve(name))) {
        assertEquals(List.of("lock"), left.map(f -> f.getFileName().toString()).toList());
      }
    }
    assertTrue(files >= 4, "there were several: " + files);
  }

  @Test
  void aRunThatStopsOnceItIsEnteredIsNotStagedAgain() throws Exception {
    execute("create table late (id bigint)");
    query("insert into late values (1)");
    Source source = source("late", "select * from late", Optional.empty(), 0);
    SourceRuns real = warehouse.ledger().sources();
    SourceRuns stopping =
        (SourceRuns)
            Proxy.newProxyInstance(
                getClass().getClassLoader(),
                new Class<?>[] {SourceRuns.class},
                (proxy, method, arguments) -> {
                  Object result = method.invoke(real, arguments);
                  if (method.getName().equals("enter")) {
                    throw Failure.depot("stopped");
                  }
                  return result;
                });
    failed(() -> stage(source, depot, stopping, false, false));
    depot.remove("late/000001.jsonl"); // as a feed that archives does
    query("insert into late values (2)");
    assertFalse(stage(source, depot).continued());
    assertEquals(Optional.empty(), depot.look("late/000001.jsonl"));
    assertEquals(2, lines("late/000002").size());
  }

  @Test
  void aQueryOfAnotherShapeStopsUntilSomebodyAcceptsIt() throws Exception {
    execute("create table shaped (id bigint, at timestamp(6))");
    query("insert into shaped values (1, timestamp '2026-03-01 00:00:00')");
    Optional<Source.Newer> newer = newer("at", Duration.ZERO);
    stage(source("shaped", "select id, at from shaped", newer, 0), depot);
    Source other = source("shaped", "select id, at, 'x' as more from shaped", newer, 0);
    String told = failed(() -> stage(other, depot));
    assertTrue(told.contains("it now has more "), told);
    assertEquals(1, lines("shaped").size());
    stage(other, depot, true, true);
    stage(other, depot);
    String order =
        failed(
            () ->
                stage(source("shaped", "select at, id, 'x' as more from shaped", newer, 0), depot));
    assertTrue(order.contains("their order was"), order);
  }

  @Test
  void whatCannotBeStagedIsTold() throws Exception {
    assertTrue(
        failed(() -> stage(source("bad", "select from nothing", Optional.empty(), 0), depot))
            .contains("The query of source bad failed"));
    assertTrue(
        failed(() -> stage(source("twice", "select 1 as a, 2 as a", Optional.empty(), 0), depot))
            .contains("query of source twice"));
    assertTrue(
        failed(() -> stage(source("nokey", "select 1 as a", Optional.empty(), 2), depot))
            .contains("no column 'id', which slices names"));
    String changing =
        failed(
            () -> stage(source("changes", "delete from dusky.load", Optional.empty(), 0), depot));
    assertTrue(changing.contains("The query of source changes failed"), changing);
    execute("create table dead (id bigint, v integer)");
    query("insert into dead values (1, 1), (2, 0)");
    Source dividing = source("dead", "select id, 1 / v as w from dead", Optional.empty(), 0);
    assertTrue(failed(() -> stage(dividing, depot)).contains("source dead"));
    assertFalse(depot.list("dead", "").hasNext());
    assertEquals(Optional.empty(), warehouse.ledger().sources().last("dead"));
  }

  @Test
  void theTimeOfALedgerIsThatOfItsRuns() {
    Source source = source("one", "select 1 as id", Optional.empty(), 0);
    stage(source, depot);
    SourceRun run = warehouse.ledger().sources().last("one").orElseThrow();
    assertEquals(1, warehouse.ledger().sources().files("one"));
    warehouse.ledger().sources().enter(run);
    assertEquals(1, warehouse.ledger().sources().files("one"), "entered once, whatever happens");
    assertTrue(run.startedAt().atOffset(ZoneOffset.UTC).getYear() >= 2026);
  }
}
