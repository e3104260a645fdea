package dev.dusky.cli.demo;

import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.net.BindException;
import java.net.URI;
import java.nio.file.Files;
import java.util.Optional;
import java.util.function.ToIntFunction;

/** Runs the whole example, narrated; each step prints the command that a person would type. */
public final class Demo {

  private static final int PORT = 9420;

  private final DemoFolder folder;
  private final Narration story;

  /**
   * A demo in a folder made for it.
   *
   * @param program runs a command line and gives its exit code
   */
  public Demo(Screen screen, DemoFolder folder, ToIntFunction<String[]> program) {
    this.folder = folder;
    this.story = new Narration(screen, folder.root(), program);
  }

  /** Tells the story from the first file to the proof. */
  public void run(String url, Optional<String> user, Optional<String> password) throws IOException {
    try (StandIn store = start(folder)) {
      Files.createDirectories(folder.buckets().resolve("wrenfold-intake"));
      folder.configure(store.endpoint(), url, user, password);
    }
    try (StandIn store = serve(folder)) {
      story.title("A morning at the Wrenfold Dairy Cooperative, which pays farms for milk.");
      story.say(
          "Everything is made up. The folder " + folder.root() + " has what tankers and registry");
      story.say("sent (outbox), a configuration (dusky.yaml), and an object store that runs at");
      story.say(store.endpoint() + " while this demo lasts.");
      story.step("Is everything reachable, with all the rights?");
      story.dusky("probe");
      story.step("Put the files into the depot.");
      story.dusky("stage", "yard", "outbox");
      story.step("Look at a file before anything is declared; bytes first, then as records.");
      story.dusky("peek", "yard:farms/registry-2026-03-01.txt", "--raw", "-n", "3");
      story.dusky("peek", "yard:tankers/fleet-2026-03-01.txt", "-n", "4");
      story.step(
          "What is in the laboratory's nested JSON? Draft its feeds: one table for the samples,");
      story.say("one for the rows of their results.");
      story.dusky("draft", "yard:assays/");
      story.step(
          "Draft all the rest: CSV, pipes, fixed width, a workbook, Parquet. One column is settled");
      story.say("by hand, all others are left to inference.");
      story.dusky("draft", "yard:", "--column", "farm_code=varchar(8) not null");
      story.step("What would a load take?");
      story.dusky("files", "collections");
      story.step("Peek again, now with the feed: only what is of interest.");
      story.dusky(
          "peek",
          "collections",
          "--where",
          "litres > 9000 and tanker = 'T07'",
          "--columns",
          "docket_no,farm_code,collected_at,litres",
          "-n",
          "4");
      story.step("Load everything. One file was sent twice under another name: it is a twin.");
      story.dusky("load");
      story.step(
          "Some rows were rejected, within the tolerance that was drafted. Which, where and why?");
      story.dusky("rejects", "--list", "4");
      story.step("Load again: every file is settled, nothing happens twice.");
      story.dusky("load");
      story.step("A file of yesterday arrives late. Only that one is loaded.");
      story.dusky("stage", "yard", "late");
      story.dusky("load", "collections");
      story.step("The history.");
      story.dusky("journal");
      story.step("Prove the books: ledger against tables, rejects and depot.");
      story.dusky("balance");
      story.step("The warehouse is plain SQL, provenance and ledger too.");
      story.dusky(
          "sql",
          "select tanker, count(*) as dockets, sum(litres) as litres from intake.collections"
              + " group by tanker order by litres desc fetch first 3 rows only");
      new BadDay(folder, story).tell();
      new TrustedTables(folder, story).tell();
      new ArrivingFiles(folder, story).tell();
    }
    story.say("");
    story.title("The folder stays for you to play in:");
    story.say("  cd " + folder.root());
    story.say("  dusky demo --serve     keeps the object store running; leave it open");
    story.say("  dusky files            and all the rest, from a second terminal");
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
