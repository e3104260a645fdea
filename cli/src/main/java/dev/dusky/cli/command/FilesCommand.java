package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Moments;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.KnownFile;
import dev.dusky.core.load.KnownFiles;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Lists files with their states. */
@Command(
    name = "files",
    description = "Lists a depot's files as a feed sees them, with their state in the ledger.",
    footer = {
      "",
      "Examples:",
      "  dusky files                              every feed's files",
      "  dusky files collections --state waiting  what the next load would take",
      "  dusky files --summary                    a line a feed: what waits, since when"
    })
final class FilesCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Only files in this state: waiting, posted, refused, twin, revised.")
  String state;

  @Option(names = "--summary", description = "A line for each feed instead of one for each file.")
  boolean summary;

  @Override
  int run(Screen screen) {
    FileState only = wanted();
    if (summary && only != null) {
      throw Failure.usage("--summary and --state do not go together");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      if (summary) {
        WatchCommand.show(screen, workspace, workspace.configuration().feedsOrAll(feeds));
        return 0;
      }
      for (Feed feed : workspace.configuration().feedsOrAll(feeds)) {
        KnownFiles files =
            new KnownFiles(
                workspace.warehouse().ledger(), workspace.depot(feed), feed, Instant.now());
        list(screen, feed, files, only);
      }
    }
    return 0;
  }

  private FileState wanted() {
    if (state == null) {
      return null;
    }
    for (FileState candidate : FileState.values()) {
      if (candidate.label().equals(state.toLowerCase(Locale.ROOT))) {
        return candidate;
      }
    }
    throw Failure.usage("There is no state '" + state + "'")
        .next("It is one of waiting, posted, refused, twin, revised, reversed, missing");
  }

  private static void list(Screen screen, Feed feed, KnownFiles files, FileState only) {
    Style style = screen.style();
    Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
    long bytes = 0;
    screen.line(
        style.strong(feed.name()) + style.faint("  " + feed.files() + " in depot " + feed.depot()));
    String form = "  %s  %10s  %s  %s";
    screen.line(style.faint(form.formatted("state   ", "size", "modified (UTC)  ", "path")));
    while (files.hasNext()) {
      KnownFile known = files.next();
      if (only != null && known.state() != only) {
        continue;
      }
      counts.merge(known.state(), 1, Integer::sum);
      bytes += known.file().size();
      screen.line(
          form.formatted(
              style.state("%-8s".formatted(known.state().label())),
              Figures.bytes(known.file().size()),
              Moments.minute(known.file().modified()),
              TableText.visible(known.file().path())));
      screen.object(json(feed, known));
    }
    int total = counts.values().stream().mapToInt(Integer::intValue).sum();
    String states =
        counts.entrySet().stream()
            .map(e -> Figures.count(e.getValue()) + " " + e.getKey().label())
            .collect(Collectors.joining(", "));
    screen.line(
        "  "
            + (total == 1 ? "1 file" : Figures.count(total) + " files")
            + ", "
            + Figures.bytes(bytes)
            + (states.isEmpty() ? "" : ": " + states));
  }

  private static Map<String, Object> json(Feed feed, KnownFile known) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", feed.name());
    fields.put("path", known.file().path());
    fields.put("state", known.state().label());
    fields.put("size", known.file().size());
    fields.put("modified", known.file().modified().toString());
    known.entry().flatMap(e -> e.loadId()).ifPresent(id -> fields.put("load", id));
    known.entry().flatMap(e -> e.message()).ifPresent(text -> fields.put("message", text));
    return fields;
  }
}
