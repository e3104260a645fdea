package dev.dusky.cli.demo;

import dev.dusky.cli.process.Launcher;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.net.BindException;
import java.net.URI;
import java.nio.file.Files;
import java.util.function.ToIntFunction;

/** Runs the example: a short tour, or every step. Each step prints its command. */
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

  /**
   * Runs the example in the folder.
   *
   * @param all every step, not only the tour
   * @param warehouse the section of the configuration that declares the warehouse
   */
  public void run(boolean all, String warehouse) throws IOException {
    try (StandIn store = start(folder)) {
      Files.createDirectories(folder.buckets().resolve("wrenfold-intake"));
      folder.configure(store.endpoint(), warehouse);
    }
    try (StandIn store = serve(folder)) {
      story.title("A morning at the Wrenfold Dairy Cooperative, which pays farms for milk.");
      story.say("All data are made up. The folder " + folder.root() + " holds the files to stage");
      story.say("(outbox) and a configuration (dusky.yaml). An object store runs at");
      story.say(store.endpoint() + " during the demo.");
      if (all) {
        new Morning(story).tell();
        new BadDay(folder, story).tell();
        new TrustedTables(folder, story).tell();
        new ArrivingFiles(folder, story).tell();
        new LargeAndStreamed(folder, story).tell();
        new OfficeAndQuotas(folder, story).tell();
      } else {
        new Tour(folder, story).tell();
      }
      story.step("Report: the ledger as a page, to look at or to send by mail.");
      story.dusky("report");
      story.say("Open " + folder.root().resolve("report.html") + " in a browser.");
    }
    next(all);
  }

  /** Commands to try next, as they are typed where the demo was started. */
  private void next(boolean all) {
    String root = folder.root().toString();
    story.say("");
    story.title("Try next. The folder " + root + " stays.");
    show("rejects", "--directory", root);
    show("journal", "--directory", root);
    show("sql", "select * from dusky.load_total", "--directory", root);
    story.say("These need the object store; keep the first one running and use a second terminal:");
    show("demo", "--serve", root);
    show("files", "--directory", root);
    show("balance", "--directory", root);
    if (!all) {
      story.say("Every feature, in a new folder:");
      show("demo", "--all");
    }
  }

  private void show(String... command) {
    story.say("  " + Launcher.typed(Invocation.of(command)));
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
          .because("another program listens there")
          .hint("Stop it, for example another {}, and try again", Invocation.of("demo", "--serve"))
          .from(e);
    }
  }
}
