package dev.dusky.cli.demo;

import dev.dusky.app.journal.ListFiles;
import dev.dusky.app.watch.WatchFeeds;
import dev.dusky.app.watch.WatchLog;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.page.ReportPage;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.atomic.AtomicBoolean;

/** A watcher runs while files arrive: late, twice, revised and with other fields. */
final class ArrivingFiles {

  private static final List<String> FEEDS = List.of("levels", "washes", "coldrooms", "passes");
  private static final String INTERVAL = "500ms";
  private static final Duration PATIENCE = Duration.ofMinutes(1);
  private static final long ASKED_EVERY_MILLIS = 200;

  private final DemoFolder folder;
  private final Narration story;
  private final AtomicBoolean stop = new AtomicBoolean();

  ArrivingFiles(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step(
        "Files keep arriving. A watcher loads four feeds. Each handles files with other fields");
    story.say("differently: extend, capture, refuse, ignore.");
    story.shown("watch", "levels", "washes", "coldrooms", "passes", "--interval", "500ms");
    try (Workspace workspace = new Workspace(folder.configuration())) {
      CompletableFuture<Boolean> watching = watch(workspace);
      arrive(workspace, watching, "first", 4);
      story.say("A late day, a twin, and a file that was sent again with one more row.");
      arrive(workspace, watching, "second", 7, "--replace");
      story.say("All four send files with other fields.");
      arrive(workspace, watching, "third", 11);
      stop.set(true);
      finish(watching);
    }
    story.step("The state of the feeds: one file needs a decision.");
    story.dusky("watch", "--status", "levels", "washes", "coldrooms", "passes");
    story.step("The differences, and the action taken for each:");
    story.dusky("journal", "--drift");
    story.step("Turn a captured field into a column, filled from the leftovers.");
    story.dusky("promote", "washes", "agent");
    story.dusky(
        "sql", "select * from arrivals.wash where agent is not null or leftovers is not null");
    story.step("Pause one feed while it is corrected; the others continue.");
    story.dusky("pause", "coldrooms", "--reason", "humidity is to be agreed on");
    story.dusky("load", "coldrooms");
    String yaml = Files.readString(folder.configuration());
    Files.writeString(
        folder.configuration(),
        yaml.replace(
            "      room:    varchar(4) not null\n",
            "      room:    varchar(4) not null\n      humidity: smallint\n"));
    story.dusky("sql", "alter table arrivals.coldroom add column humidity smallint");
    story.dusky("resume", "coldrooms");
    story.dusky("watch", "coldrooms", "--once");
    story.step("Every file and every row is accounted for.");
    story.dusky("balance", "levels", "washes", "coldrooms", "passes");
  }

  private CompletableFuture<Boolean> watch(Workspace workspace) {
    List<Feed> feeds = workspace.configuration().feedsOrAll(FEEDS);
    WatchFeeds watch =
        new WatchFeeds(workspace, new WatchLog(System.out, false), ReportPage::live, stop::get);
    return CompletableFuture.supplyAsync(
        () -> {
          try {
            return watch.run(feeds, Optional.of(INTERVAL), false);
          } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
          }
        });
  }

  /** Stages a wave and waits until that many files in all are done. */
  private void arrive(
      Workspace workspace,
      CompletableFuture<Boolean> watching,
      String wave,
      int files,
      String... more) {
    List<String> command = new ArrayList<>(List.of("stage", "yard", "arrivals/" + wave));
    command.addAll(List.of(more));
    story.dusky(command.toArray(String[]::new));
    Instant giveUp = Instant.now().plus(PATIENCE);
    while (settled(workspace) < files) {
      if (watching.isDone() || Instant.now().isAfter(giveUp)) {
        stop.set(true);
        finish(watching);
        throw Failure.warehouse("The watcher did not load the files that arrived")
            .hint("Run the demo again; if it happens again, that is a fault of the program");
      }
      pause();
    }
  }

  /** Waits, so that the watcher and not this check uses the warehouse. */
  private void pause() {
    try {
      Thread.sleep(ASKED_EVERY_MILLIS);
    } catch (InterruptedException e) {
      stop.set(true);
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "The demo was stopped").from(e);
    }
  }

  /** How many of the files that arrived are posted, known as twins, or refused. */
  private long settled(Workspace workspace) {
    return new ListFiles(workspace).processed(FEEDS);
  }

  private static void finish(CompletableFuture<Boolean> watching) {
    try {
      watching.get();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (ExecutionException e) {
      throw Failure.warehouse("The watcher failed").because(String.valueOf(e.getCause())).from(e);
    }
  }

  private void prepare() throws IOException {
    new WrenfoldArrivals().write(folder.root().resolve("arrivals"));
    try (InputStream in = ArrivingFiles.class.getResourceAsStream("arrivals.yaml")) {
      String feeds = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      String yaml = Files.readString(folder.configuration());
      Files.writeString(
          folder.configuration(),
          yaml.replaceFirst(
              "(?m)^feeds:\\n",
              java.util.regex.Matcher.quoteReplacement("feeds:\n" + feeds + "\n")));
    }
  }
}
