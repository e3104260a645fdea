package dev.dusky.cli.demo;

import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.net.BindException;
import java.net.URI;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.ToIntFunction;

/** Runs the whole example, narrated; each step prints the command that a person would type. */
public final class Demo {

  private static final int PORT = 9420;

  private final Screen screen;
  private final DemoFolder folder;
  private final ToIntFunction<String[]> program;
  private int step;

  /**
   * A demo in a folder made for it.
   *
   * @param program runs a command line and gives its exit code
   */
  public Demo(Screen screen, DemoFolder folder, ToIntFunction<String[]> program) {
    this.screen = screen;
    this.folder = folder;
    this.program = program;
  }

  /** Tells the story from the first file to the proof. */
  public void run(String url, Optional<String> user, Optional<String> password) throws IOException {
    try (StandIn store = start(folder)) {
      Files.createDirectories(folder.buckets().resolve("wrenfold-intake"));
      folder.configure(store.endpoint(), url, user, password);
    }
    try (StandIn store = serve(folder)) {
      title("A morning at the Wrenfold Dairy Cooperative, which pays farms for milk.");
      say("Everything is made up. The folder " + folder.root() + " has what tankers and registry");
      say("sent (outbox), a configuration (dusky.yaml), and an object store that runs at");
      say(store.endpoint() + " while this demo lasts.");
      step("Is everything reachable, with all the rights?");
      dusky("probe");
      step("Put the files into the depot.");
      dusky("stage", "yard", "outbox");
      step("Look at a file before anything is declared; bytes first, then as records.");
      dusky("peek", "yard:farms/registry-2026-03-01.txt", "--raw", "-n", "3");
      dusky("peek", "yard:tankers/fleet-2026-03-01.txt", "-n", "4");
      step("What is in the laboratory's nested JSON? Draft its feeds: one table for the samples,");
      say("one for the rows of their results.");
      dusky("draft", "yard:assays/");
      step(
          "Draft all the rest: CSV, pipes, fixed width, a workbook, Parquet. One column is settled");
      say("by hand, all others are left to inference.");
      dusky("draft", "yard:", "--column", "farm_code=varchar(8) not null");
      step("What would a load take?");
      dusky("files", "collections");
      step("Peek again, now with the feed: only what is of interest.");
      dusky(
          "peek",
          "collections",
          "--where",
          "litres > 9000 and tanker = 'T07'",
          "--columns",
          "docket_no,farm_code,collected_at,litres",
          "-n",
          "4");
      step("Load everything. One file was sent twice under another name: it is a twin.");
      dusky("load");
      step("Some rows were rejected, within the tolerance that was drafted. Which, where and why?");
      dusky("rejects", "--list", "4");
      step("Load again: every file is settled, nothing happens twice.");
      dusky("load");
      step("A file of yesterday arrives late. Only that one is loaded.");
      dusky("stage", "yard", "late");
      dusky("load", "collections");
      step("The history.");
      dusky("journal");
      step("Prove the books: ledger against tables, rejects and depot.");
      dusky("balance");
      step("The warehouse is plain SQL, provenance and ledger too.");
      dusky(
          "sql",
          "select tanker, count(*) as dockets, sum(litres) as litres from intake.collections"
              + " group by tanker order by litres desc fetch first 3 rows only");
    }
    screen.raw("");
    title("The folder stays for you to play in:");
    say("  cd " + folder.root());
    say("  dusky demo --serve     keeps the object store running; leave it open");
    say("  dusky files            and all the rest, from a second terminal");
  }

  private void title(String text) {
    screen.raw(screen.style().strong(text));
  }

  private void say(String text) {
    screen.raw(text);
  }

  private void step(String text) {
    screen.raw("");
    title(++step + ". " + text);
  }

  private void dusky(String... args) {
    List<String> shown = new ArrayList<>();
    for (String arg : args) {
      shown.add(arg.contains(" ") ? '"' + arg + '"' : arg);
    }
    screen.raw(screen.style().faint("$ dusky " + String.join(" ", shown)));
    List<String> all = new ArrayList<>(List.of(args));
    all.add(1, "--directory=" + folder.root());
    if (!screen.style().colour()) {
      all.add(1, "--no-color");
    }
    int code = program.applyAsInt(all.toArray(String[]::new));
    if (code != 0) {
      throw Failure.of(kind(code), "The demo stopped at 'dusky " + String.join(" ", args) + "'")
          .because("it ended with exit code " + code);
    }
  }

  private static Failure.Kind kind(int code) {
    for (Failure.Kind kind : Failure.Kind.values()) {
      if (kind.exitCode() == code) {
        return kind;
      }
    }
    return Failure.Kind.FILE;
  }

  /** Starts the stand-in at its usual port, or at a free one if that is taken. */
  private static StandIn start(DemoFolder folder) throws IOException {
    try {
      return StandIn.start(folder.buckets(), folder.accessKey(), folder.secretKey(), PORT);
    } catch (BindException e) {
      return StandIn.start(folder.buckets(), folder.accessKey(), folder.secretKey(), 0);
    }
  }

  /** Starts the stand-in where the folder's configuration says. */
  public static StandIn serve(DemoFolder folder) throws IOException {
    int port =
        Files.readAllLines(folder.configuration()).stream()
            .filter(line -> line.strip().startsWith("endpoint:"))
            .map(line -> URI.create(line.split("\"")[1]).getPort())
            .findFirst()
            .orElse(PORT);
    try {
      return StandIn.start(folder.buckets(), folder.accessKey(), folder.secretKey(), port);
    } catch (BindException e) {
      throw Failure.depot("The object store cannot be served at port " + port)
          .because("something else listens there")
          .next("Stop that, perhaps another 'dusky demo --serve', and try again")
          .from(e);
    }
  }
}
