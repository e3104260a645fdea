package dev.dusky.cli.torture;

import dev.dusky.cli.Program;
import dev.dusky.cli.Program.Run;
import dev.dusky.cli.torture.KnownFiles.Content;
import dev.dusky.cli.torture.KnownFiles.Docket;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;

/**
 * Rounds of files arriving while loads, watchers and merges run, are killed, lose their connections
 * and their server. After each round the tables are compared with what is known of the files by SQL
 * that shares nothing with the program; at the end all is loaded and merged in peace, and must be
 * exactly what is known.
 *
 * <p>{@code scripts/torture.sh SECONDS [SEED]} runs it for long.
 */
public final class Torture implements AutoCloseable {

  private static final List<List<String>> COMMANDS =
      List.of(
          List.of("load"),
          List.of("load", "collections"),
          List.of("watch", "--once"),
          List.of("watch", "--interval", "1s"),
          List.of("merge"),
          List.of("merge", "collection"));

  /**
   * Whatever happens to a process, it must not end with these: usage, configuration, unexpected.
   */
  private static final Set<Integer> NEVER = Set.of(2, 3, 70);

  private static final String CONFIG =
      """
      warehouse: { url: "%s", user: postgres, connections: 3 }
      depots: { yard: "file:./intake" }
      layouts: { csv: { kind: delimited } }
      feeds:
        collections:
          depot: yard
          files: "collections/*.csv.gz"
          layout: csv
          into: intake.collection
          create: true
          tolerance: any
          ready: { quiet: 0 s }
          repeats: { key: [docket_no, revision] }
          totals: [litres]
          columns:
            docket_no: bigint not null
            revision: integer not null
            litres: decimal(9,1) not null
      merges:
        collection:
          from: intake.collection
          into: dairy.collection
          create: true
          key: docket_no
          latest-by: revision
          totals: [litres]
          after: each load
      """;

  private final Random random;
  private final Path folder;
  private final TorturedDatabase database;
  private final KnownFiles files;
  private final Program dusky;
  private int killed;
  private int cut;
  private int restarts;

  /** Everything is made below the folder; the same seed does the same, as far as processes do. */
  public Torture(Path folder, long seed) throws IOException {
    this.random = new Random(seed);
    this.folder = folder;
    this.database = new TorturedDatabase(folder.resolve("data"));
    this.files = new KnownFiles(folder.resolve("intake"), random);
    this.dusky = new Program(folder).file("dusky.yaml", CONFIG.formatted(database.url()));
  }

  /** Runs rounds while asked to, then lets all work finish; returns a summary line. */
  public String run(BooleanSupplier goOn) throws Exception {
    files.arrive();
    expect(dusky.run("load"), Set.of(0));
    expect(dusky.run("merge"), Set.of(0));
    int rounds = 0;
    while (goOn.getAsBoolean()) {
      round();
      compareFiles(false);
      rounds++;
    }
    expect(dusky.run("load"), Set.of(0));
    expect(dusky.run("merge"), Set.of(0));
    compareFiles(true);
    compareDockets();
    expect(dusky.run("balance"), Set.of(0));
    return "%d rounds, %d files, %d processes killed, %d connections cut, %d restarts: all is right"
        .formatted(rounds, files.paths().size(), killed, cut, restarts);
  }

  private void round() throws Exception {
    for (int i = 2 + random.nextInt(5); i > 0; i--) {
      files.arrive();
    }
    List<Process> processes = new ArrayList<>();
    for (int i = 2 + random.nextInt(2); i > 0; i--) {
      List<String> command = new ArrayList<>(COMMANDS.get(random.nextInt(COMMANDS.size())));
      command.add("--debug");
      processes.add(dusky.start(command.toArray(String[]::new)));
    }
    // A process needs about a second to begin; what comes after hits it in the middle.
    for (Process process : processes) {
      process.waitFor(300 + random.nextInt(1_200), TimeUnit.MILLISECONDS);
      switch (random.nextInt(8)) {
        case 0, 1, 2 -> cut += database.cut(1 + random.nextInt(2));
        case 3 -> {
          database.restart();
          restarts++;
        }
        default -> kill(process);
      }
    }
    for (Process process : processes) {
      if (random.nextBoolean() && process.waitFor(2, TimeUnit.SECONDS)) {
        require(
            !NEVER.contains(process.exitValue()),
            "a process ended with " + process.exitValue() + "\n" + outputs());
      }
      kill(process);
    }
  }

  private void kill(Process process) throws InterruptedException {
    if (process.isAlive()) {
      process.destroyForcibly().waitFor();
      killed++;
    }
  }

  /** What processes said, for whoever has to find out. */
  private String outputs() throws IOException {
    StringBuilder text = new StringBuilder();
    try (var outputs = Files.newDirectoryStream(folder, "err-*.txt")) {
      for (Path output : outputs) {
        text.append(Files.readString(output));
      }
    }
    return text.toString();
  }

  /** Each posted file has exactly its rows, each other file none; at the end each content once. */
  private void compareFiles(boolean settled) throws SQLException {
    List<List<String>> rows =
        database.ask(
            """
            select f.path, f.state, count(r.dusky_row), count(distinct r.dusky_row),
              coalesce(sum(r.litres), 0) * 10
            from dusky.file f left join intake.collection r on r.dusky_file = f.file_id
            group by f.path, f.state""");
    Map<Integer, String> posted = new HashMap<>();
    Set<String> seen = new HashSet<>();
    for (List<String> row : rows) {
      String path = row.get(0);
      seen.add(path);
      int number = files.paths().get(path);
      Content content = files.content(number);
      boolean in = row.get(1).equals("posted");
      same(path + ": rows", in ? content.loaded() : 0, row.get(2));
      same(path + ": different rows", in ? content.loaded() : 0, row.get(3));
      same(path + ": tenths of litres", in ? content.tenths() : 0, row.get(4).split("\\.")[0]);
      if (in) {
        String other = posted.put(number, path);
        require(other == null, path + " and " + other + " have one content and are both posted");
      }
      require(
          !settled || in || row.get(1).equals("twin"),
          path + " is left " + row.get(1) + " at last");
    }
    same(
        "rows of no file",
        0,
        database
            .ask(
                "select count(*) from intake.collection where dusky_file not in (select file_id from dusky.file)")
            .get(0)
            .get(0));
    if (settled) {
      require(seen.equals(files.paths().keySet()), "not all files are known: " + seen);
      require(posted.size() == files.contents().size(), "contents are missing: " + posted);
      compareTallies();
    }
  }

  private void compareTallies() throws SQLException {
    List<String> tally =
        database
            .ask(
                """
                select sum(read_rows), sum(loaded_rows), sum(duplicate_rows), sum(rejected_rows)
                from dusky.tally where state = 'posted'""")
            .get(0);
    same("rows read", files.contents().stream().mapToLong(Content::read).sum(), tally.get(0));
    same("rows loaded", files.contents().stream().mapToLong(Content::loaded).sum(), tally.get(1));
    same("repeats", files.contents().stream().mapToLong(Content::repeats).sum(), tally.get(2));
    same("rejected", files.contents().stream().mapToLong(Content::bad).sum(), tally.get(3));
    same(
        "rejects",
        files.contents().stream().mapToLong(Content::bad).sum(),
        database.ask("select count(*) from dusky.reject where state = 'open'").get(0).get(0));
  }

  private void compareDockets() throws SQLException {
    Map<Integer, Docket> merged = new HashMap<>();
    for (List<String> row :
        database.ask(
            "select docket_no, revision, cast(litres * 10 as bigint) from dairy.collection")) {
      Docket docket = new Docket(Integer.parseInt(row.get(1)), Long.parseLong(row.get(2)));
      require(
          merged.put(Integer.parseInt(row.get(0)), docket) == null, "docket twice: " + row.get(0));
    }
    require(merged.equals(files.dockets()), "merged dockets are not the last revisions");
  }

  private static void same(String what, long expected, String found) {
    require(String.valueOf(expected).equals(found), what + ": " + expected + " wanted, " + found);
  }

  private static void require(boolean right, String otherwise) {
    if (!right) {
      throw new AssertionError(otherwise);
    }
  }

  private static void expect(Run run, Set<Integer> codes) {
    require(codes.contains(run.code()), "exit code " + run.code() + "\n" + run.all());
  }

  @Override
  public void close() throws IOException {
    database.close();
  }

  /** For that many seconds, with a seed; without one the seed is the time, which is printed. */
  public static void main(String... args) throws Exception {
    long seconds = Long.parseLong(args[0]);
    long seed = args.length > 1 ? Long.parseLong(args[1]) : System.currentTimeMillis();
    Path folder = Files.createTempDirectory("dusky-torture-");
    System.out.println("seed " + seed + ", in " + folder);
    Instant end = Instant.now().plus(Duration.ofSeconds(seconds));
    try (Torture torture = new Torture(folder, seed)) {
      System.out.println(torture.run(() -> Instant.now().isBefore(end)));
    }
  }
}
