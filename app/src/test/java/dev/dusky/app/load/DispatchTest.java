package dev.dusky.app.load;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.Dispatcher;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.dispatch.SurveyPart;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.function.BooleanSupplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A load whose files are attempted elsewhere has the result of one that is not. */
class DispatchTest {

  private static final String CONFIGURATION =
      """
      warehouse: { tables: "file:./tables", ledger: "jdbc:h2:file:./ledger" }
      depots: { yard: { at: "file:./yard" } }
      feeds:
        milk:
          depot: yard
          files: "{day}/*"
          layout: { kind: delimited, header: true }
          into: intake.milk
          create: true
          tolerance: { file: %s, load: %s }
          %s
          repeats: %s
          drift: %s
          mode: %s
          totals: [no, litres]
          columns:
            no: bigint not null
            farm: varchar(4)
            litres: { type: "decimal(9,1)", check: "litres < 500" }
            day: { type: text, value: "day" }
      """;

  private static final int BUCKETS = 3;

  @TempDir Path folder;

  /** Attempts parts in this process, by their bytes alone. */
  private static List<List<FileReport>> attempt(
      DispatchOrder order,
      List<LandedPart> landed,
      List<DispatchPart> parts,
      BooleanSupplier stopped) {
    try {
      List<List<FileReport>> reports = new ArrayList<>();
      List<List<byte[]>> left =
          order.hashes().isPresent()
              ? left(order, landed, parts)
              : parts.stream().map(p -> none()).toList();
      for (int i = 0; i < parts.size(); i++) {
        byte[][] repeats = left.get(i).toArray(new byte[0][]);
        reports.add(FileReport.read(FileWorker.run(order.bytes(), parts.get(i).bytes(), repeats)));
      }
      return reports;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static List<byte[]> none() {
    return new ArrayList<>();
  }

  /** What of each part's rows is left out: the buckets change hands as an engine does it. */
  private static List<List<byte[]>> left(
      DispatchOrder order, List<LandedPart> landed, List<DispatchPart> parts) throws IOException {
    List<byte[][]> surveyed = new ArrayList<>();
    for (SurveyPart part : Stream.<SurveyPart>concat(landed.stream(), parts.stream()).toList()) {
      surveyed.add(FileWorker.survey(order.bytes(), part.bytes(), BUCKETS));
    }
    int[] numbers = IntStream.range(-landed.size(), parts.size()).toArray();
    List<List<byte[]>> left = new ArrayList<>(parts.stream().map(p -> none()).toList());
    for (int bucket = 0; bucket < BUCKETS; bucket++) {
      int of = bucket;
      byte[][] rows = surveyed.stream().map(part -> part[of]).toArray(byte[][]::new);
      byte[][] resolved = FileWorker.resolve(numbers, rows);
      for (int i = 0; i < parts.size(); i++) {
        left.get(i).add(resolved[landed.size() + i]);
      }
    }
    return left;
  }

  private Path place(String name, String kind) throws IOException {
    Path place = Files.createDirectories(folder.resolve(name));
    boolean drifts = List.of("capture", "ignore", "extend").contains(kind);
    boolean all = List.of("load", "table", "few", "replaced").contains(kind);
    String repeats = all ? "{ key: [farm, litres], scope: %s }".formatted(scope(kind)) : "row";
    String mode =
        switch (kind) {
          case "replace", "replaced" -> "{ replace: all, at-most: 100% }";
          case "slices" -> "{ replace: \"by {day}\", at-most: 100% }";
          default -> "append";
        };
    String tolerance =
        switch (kind) {
          case "tolerance", "few" -> "2";
          case "share" -> "2%";
          default -> "any";
        };
    Files.writeString(
        place.resolve("dusky.yaml"),
        CONFIGURATION.formatted(
            isSound(kind) ? "any" : "1",
            tolerance,
            mode.equals("append") ? "revised: replace" : "",
            repeats,
            drifts ? kind : "ignore",
            mode));
    return place;
  }

  /** Whether all files can be loaded, as those must that replace others. */
  private static boolean isSound(String kind) {
    return kind.equals("replaced") || kind.equals("slices");
  }

  private static String scope(String kind) {
    return kind.equals("table") ? "table" : "load";
  }

  private static void stage(Path place, String path, String text) throws IOException {
    Path file = place.resolve("yard").resolve(path);
    Files.createDirectories(file.getParent());
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    try (OutputStream out = Files.newOutputStream(file)) {
      if (path.endsWith(".gz")) {
        try (GZIPOutputStream packed = new GZIPOutputStream(out)) {
          packed.write(bytes);
        }
      } else {
        out.write(bytes);
      }
    }
  }

  /** Days of files: bad rows, repeats, fields that nobody knows, no rows, twins, other columns. */
  private static void stage(Path place, long seed, String kind) throws IOException {
    Random random = new Random(seed);
    boolean twins = !List.of("capture", "ignore", "extend").contains(kind);
    for (int file = 0; file < 7; file++) {
      boolean more = random.nextInt(4) == 0;
      StringBuilder text = new StringBuilder("no,farm,litres" + (more ? ",extra" : "") + "\n");
      int rows = random.nextInt(9) == 0 && !isSound(kind) ? 0 : 1 + random.nextInt(30);
      for (int row = 0; row < rows; row++) {
        String line =
            switch (random.nextInt(20)) {
              case 0 -> "x,WF1,1.5";
              case 1 -> row + ",WF1,500";
              case 2 -> row + ",TOOLONG,1";
              default -> file * 100 + row + ",WF" + row % 7 + "," + row + ".5";
            };
        text.append(line).append(more ? ",late" : "").append('\n');
        if (random.nextInt(10) == 0) {
          text.append(line).append(more ? ",late" : "").append('\n');
        }
      }
      String path = "d%d/%02d.csv%s".formatted(file % 3, file, file % 4 == 0 ? ".gz" : "");
      stage(place, path, text.toString());
      if (twins && file == 5) {
        stage(place, "d9/copy.csv", text.toString());
      }
    }
    if (!isSound(kind)) {
      stage(place, "d0/99.csv", "what,is,this\n1,2,3\n");
    }
  }

  private static LoadResult load(Workspace workspace, Optional<Dispatcher> elsewhere)
      throws IOException {
    return new FeedLoader(
            workspace.warehouse().ledger(),
            workspace.warehouse().tables(),
            run(workspace, elsewhere))
        .run(workspace.start(workspace.configuration().feed("milk")));
  }

  private static LoadRun run(Workspace workspace, Optional<Dispatcher> elsewhere)
      throws IOException {
    Feed feed = workspace.configuration().feed("milk");
    Path file = workspace.configuration().file();
    String text = Files.readString(file);
    return LoadRun.of(feed, workspace.depot(feed), new LoadListener() {}, () -> false)
        .withDispatch(
            elsewhere.map(
                to ->
                    new LoadRun.Dispatch(
                        to,
                        DispatchOrder.of(
                            FileWorker.class.getName(),
                            text,
                            file.toString(),
                            "milk",
                            Optional.empty()))));
  }

  /** What a rehearsal says of each file. */
  private static List<String> rehearse(Workspace workspace, boolean elsewhere) throws IOException {
    Feed feed = workspace.configuration().feed("milk");
    List<String> said = new ArrayList<>();
    Warehouse warehouse = workspace.bareWarehouse();
    Rehearsal rehearsal = new Rehearsal(warehouse.ledger(), warehouse.tables(), elsewhere);
    LoadResult result =
        new FeedLoader(
                rehearsal.ledger(
                    (file, outcome, rejects) -> {
                      said.add(
                          "%s %s %s %s %s"
                              .formatted(
                                  file.path(),
                                  outcome.state(),
                                  outcome.tally(),
                                  outcome.message(),
                                  outcome.drifts()));
                      rejects.forEach(reject -> said.add(file.path() + " " + reject.problems()));
                    }),
                rehearsal.tables(),
                run(workspace, elsewhere ? Optional.of(DispatchTest::attempt) : Optional.empty()))
            .run(workspace.start(feed));
    said.sort(null);
    said.add(result.tally().toString());
    return said;
  }

  /** The files of rows, but not those that say which rows a revised file has lost. */
  private static List<Path> dataFiles(Path place) throws IOException {
    try (Stream<Path> files = Files.walk(place.resolve("tables"))) {
      return files
          .filter(file -> file.toString().matches(".*(?<!-deletes)[.]parquet"))
          .sorted()
          .toList();
    }
  }

  private static List<String> query(Workspace workspace, String sql) {
    List<String> rows = new ArrayList<>();
    workspace
        .warehouse()
        .run(
            sql,
            new ResultTaker() {
              @Override
              public void columns(List<String> names, List<Boolean> numeric) {}

              @Override
              public void row(List<Object> values) {
                rows.add(values.toString().replaceAll("\\d{4}-\\d\\d-\\d\\dT[^ ,)]+", "TIME"));
              }

              @Override
              public void changed(long count) {}
            });
    return rows;
  }

  /** All that the ledger says of the files, but for its own numbers and times. */
  private static List<String> account(Workspace workspace) {
    List<String> all = new ArrayList<>();
    for (String sql :
        List.of(
            "select f.path, f.state, f.fingerprint, t.read_rows, t.loaded_rows, t.duplicate_rows,"
                + " t.rejected_rows, t.withheld_rows, t.stored_bytes, t.content_bytes, t.message"
                + " from dusky.file f join dusky.tally t on t.file_id = f.file_id order by f.path",
            // Which rows of a refused file would have been repeats is of no consequence.
            "select f.path, c.column_name, c.other_total, c.loaded_total + c.duplicate_total,"
                + " case f.state when 'posted' then c.loaded_total end"
                + " from dusky.control_total c join dusky.file f on f.file_id = c.file_id"
                + " order by f.path, c.column_name",
            "select f.path, r.record_number, r.line_number, r.byte_offset"
                + " from dusky.reject r join dusky.file f on f.file_id = r.file_id"
                + " order by f.path, r.record_number",
            "select path, first_record, row_count, kept_path, kept_record"
                + " from dusky.repeat_detail order by path, first_record",
            "select f.path, d.field, d.change, d.action, d.record_count"
                + " from dusky.drift_detail d join dusky.file f on f.path = d.path"
                + " order by f.path, d.field")) {
      all.addAll(query(workspace, sql).stream().sorted().toList());
    }
    return all;
  }

  private static void proven(Workspace workspace) {
    Feed feed = workspace.configuration().feed("milk");
    FeedProof proof =
        workspace.warehouse().proofs().feed("milk", feed.into(), List.of("no", "litres"));
    assertEquals(List.of(), proof.differences());
    assertEquals(List.of(), proof.contradictions());
    assertTrue(proof.totals().stream().allMatch(t -> t.agrees()), proof.totals().toString());
    assertEquals(0, workspace.warehouse().proofs().strays(feed.into()));
  }

  private static long states(Path place) throws IOException {
    try (Stream<Path> files = Files.walk(place.resolve("tables"))) {
      return files.filter(file -> file.toString().endsWith(".metadata.json")).count();
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "capture",
        "ignore",
        "extend",
        "twins",
        "load",
        "table",
        "tolerance",
        "share",
        "few",
        "replace",
        "replaced",
        "slices"
      })
  void theAccountIsThatOfALoadOnThisMachine(String kind) throws IOException {
    Path here = place("here", kind);
    Path there = place("there", kind);
    stage(here, kind.hashCode(), kind);
    stage(there, kind.hashCode(), kind);
    try (Workspace alone = new Workspace(here.resolve("dusky.yaml"));
        Workspace elsewhere = new Workspace(there.resolve("dusky.yaml"))) {
      List<String> rehearsed = rehearse(elsewhere, false);
      assertEquals(rehearsed, rehearse(elsewhere, true), "before there is a table");
      Tally expected = load(alone, Optional.empty()).tally();
      assertEquals(expected, load(elsewhere, Optional.of(DispatchTest::attempt)).tally());
      assertEquals(account(alone), account(elsewhere));
      proven(elsewhere);
      if (expected.loaded() > 0 && !kind.equals("extend")) {
        assertEquals(2, states(there), "the table as it was made, and with the rows of all files");
      }
      assertEquals(
          load(alone, Optional.empty()).tally(),
          load(elsewhere, Optional.of(DispatchTest::attempt)).tally());
      stage(there, kind.hashCode() + 1, kind);
      List<Path> before = dataFiles(there);
      assertEquals(rehearse(elsewhere, false), rehearse(elsewhere, true), "with a table");
      assertEquals(before, dataFiles(there), "no data file is left of a rehearsal");
      stage(here, kind.hashCode() + 1, kind);
      Tally next = load(alone, Optional.empty()).tally();
      assertEquals(next, load(elsewhere, Optional.of(DispatchTest::attempt)).tally());
      assertEquals(account(alone), account(elsewhere), "with revised files among the new ones");
      proven(elsewhere);
    }
  }

  @Test
  void rowsThatTheTableHasAreFoundButNotThoseThatWereTakenOut() throws IOException {
    List<List<String>> accounts = new ArrayList<>();
    for (boolean elsewhere : List.of(false, true)) {
      Path place = place("landed" + elsewhere, "table");
      List<Integer> surveyed = new ArrayList<>();
      Dispatcher counting =
          (order, landed, parts, stopped) -> {
            surveyed.add(landed.size());
            return attempt(order, landed, parts, stopped);
          };
      Optional<Dispatcher> by = elsewhere ? Optional.of(counting) : Optional.empty();
      try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
        stage(place, "d1/a.csv", "no,farm,litres\n1,WF1,1\n2,WF2,2\n");
        stage(place, "d1/b.csv", "no,farm,litres\n3,WF3,3\n4,WF2,2\n");
        assertEquals(Tally.posted(4, 3, 1, 0, 0), load(workspace, by).tally());
        stage(place, "d1/a.csv", "no,farm,litres\n1,WF1,1\n5,WF5,5\n");
        assertEquals(Tally.posted(2, 2, 0, 0, 0), load(workspace, by).tally());
        stage(place, "d2/c.csv", "no,farm,litres\n6,WF2,2\n7,WF1,1\n8,,1\n9,,1\n");
        stage(place, "d2/d.csv", "no,farm,litres\n10,WF3,3\n11,WF2,2\n12,WF6,6\n");
        assertEquals(rehearse(workspace, false), rehearse(workspace, true));
        assertEquals(Tally.posted(7, 4, 3, 0, 0), load(workspace, by).tally());
        proven(workspace);
        accounts.add(account(workspace));
      }
      assertEquals(elsewhere ? List.of(0, 2) : List.of(), surveyed);
    }
    assertEquals(accounts.get(0), accounts.get(1));
  }

  @Test
  void aFileOfUnusualVolumeIsRefusedThereToo() throws IOException {
    Path place = place("volume", "capture");
    String text = Files.readString(place.resolve("dusky.yaml"));
    Files.writeString(
        place.resolve("dusky.yaml"),
        text.replace(
            "    totals:", "    expect: { volume: { refuse: 50%, nulls: [farm] } }\n    totals:"));
    String usual = "no,farm,litres\n1,WF1,1\n2,WF2,2\n3,WF3,3\n4,WF4,4\n";
    for (int file = 0; file < 9; file++) {
      stage(place, "d1/%d.csv".formatted(file), usual.replace("1,WF1", 10 + file + ",WF1"));
    }
    try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
      assertEquals(36, load(workspace, Optional.of(DispatchTest::attempt)).tally().loaded());
      stage(place, "d2/small.csv", "no,farm,litres\n1,WF1,9\n");
      stage(place, "d2/nulls.csv", usual.replaceAll("WF\\d", "").replace("1,,", "30,,"));
      stage(place, "d2/usual.csv", usual.replace("1,WF1", "20,WF1"));
      assertEquals(4, load(workspace, Optional.of(DispatchTest::attempt)).tally().loaded());
      List<String> refused =
          query(
              workspace,
              "select f.path, t.message from dusky.file f join dusky.tally t on t.file_id ="
                  + " f.file_id where f.state = 'refused' order by f.path");
      assertEquals(2, refused.size(), refused.toString());
      assertTrue(refused.get(0).contains("d2/nulls.csv, unusual volume"), refused.toString());
      assertTrue(refused.get(1).contains("d2/small.csv, unusual volume"), refused.toString());
      proven(workspace);
    }
  }

  @Test
  void attemptsThatAreMadeTwiceOrLostChangeNothing() throws IOException {
    Path place = place("twice", "capture");
    stage(place, 7, "capture");
    try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
      Dispatcher lost =
          (order, landed, parts, stopped) -> {
            attempt(order, landed, parts, stopped).forEach(part -> part.forEach(FileReport::close));
            throw Failure.warehouse("The engine has ended").hint("Try again");
          };
      assertThrows(Failure.class, () -> load(workspace, Optional.of(lost)));
      assertEquals(List.of(), query(workspace, "select 1 from dusky.tally"));
      Dispatcher twice =
          (order, landed, parts, stopped) -> {
            attempt(order, landed, parts, stopped).forEach(part -> part.forEach(FileReport::close));
            return attempt(order, landed, parts, stopped);
          };
      assertTrue(load(workspace, Optional.of(twice)).tally().loaded() > 0);
      proven(workspace);
    }
  }

  @Test
  void repeatsOfAFileThatCouldNotBeSurveyedAreFoundAllTheSame() throws IOException {
    Path place = place("away", "load");
    stage(place, "d1/a.csv", "no,farm,litres\n1,WF1,1\n");
    stage(place, "d1/b.csv", "no,farm,litres\n2,WF1,1\n3,WF3,1\n");
    Path file = place.resolve("yard/d1/b.csv");
    Path away = place.resolve("b.csv");
    try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
      Dispatcher surveying =
          (order, landed, parts, stopped) -> {
            try {
              Files.move(file, away);
              List<byte[]> left = left(order, landed, parts).get(0);
              Files.move(away, file);
              byte[][] repeats = left.toArray(new byte[0][]);
              return List.of(
                  FileReport.read(FileWorker.run(order.bytes(), parts.get(0).bytes(), repeats)));
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          };
      Tally tally = load(workspace, Optional.of(surveying)).tally();
      assertEquals(2, tally.loaded());
      assertEquals(1, tally.duplicate());
      proven(workspace);
    }
  }

  @Test
  void aFileThatIsGoneBeforeItIsReadStopsNoOther() throws IOException {
    Path place = place("gone", "capture");
    stage(place, "d1/a.csv", "no,farm,litres\n1,WF1,1\n");
    stage(place, "d1/b.csv", "no,farm,litres\n2,WF1,1\n");
    try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
      Dispatcher losing =
          (order, landed, parts, stopped) -> {
            try {
              Files.deleteIfExists(place.resolve("yard/d1/a.csv"));
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
            return attempt(order, landed, parts, stopped);
          };
      assertEquals(1, load(workspace, Optional.of(losing)).tally().loaded());
      assertEquals(
          List.of("[d1/b.csv]"),
          query(workspace, "select path from dusky.file where state = 'posted'"));
      proven(workspace);
    }
  }
}
