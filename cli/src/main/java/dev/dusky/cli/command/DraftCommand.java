package dev.dusky.cli.command;

import dev.dusky.cli.config.ColumnHints;
import dev.dusky.cli.config.Configuration;
import dev.dusky.cli.config.ConfigurationFile;
import dev.dusky.cli.render.DraftReport;
import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.draft.FileGroups;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.table.TableName;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Works out feeds from staged files and writes them into the configuration. */
@Command(
    name = "draft",
    description = {
      "Looks at staged files and writes the feed, its layout and its columns.",
      "",
      "Every decision is shown with the evidence for it; what should be looked at",
      "is marked. Without a path all files of the depot are grouped by folder and",
      "shape, a feed for each."
    },
    footer = {
      "",
      "Examples:",
      "  dusky draft yard:collections/      the files of a folder",
      "  dusky draft yard: --print          all of the depot, nothing written",
      "  dusky draft yard:farms/ --column farm_code='varchar(8) not null' --create"
    })
final class DraftCommand extends DuskyCommand {

  private static final int MOST_LISTED = 100_000;

  @Parameters(
      index = "0",
      paramLabel = "DEPOT:PATH",
      description = "The depot, and a folder, a pattern, or nothing for all of it.")
  String target;

  @Option(names = "--name", paramLabel = "NAME", description = "The feed's name.")
  String name;

  @Option(
      names = "--schema",
      paramLabel = "SCHEMA",
      description = "The schema of the landing tables; intake if not given.")
  String schema = "intake";

  @Option(
      names = "--column",
      paramLabel = "NAME=TYPE",
      description = "A column that is settled; the others are left to inference.")
  List<String> columns = new ArrayList<>();

  @Option(names = "--print", description = "Print the lines instead of writing them.")
  boolean print;

  @Option(
      names = "--evidence",
      description = "Show all evidence also when there is more than one feed.")
  boolean evidence;

  @Option(names = "--create", description = "Make the landing tables too.")
  boolean create;

  @Override
  int run(Screen screen) throws IOException {
    int colon = target.indexOf(':');
    if (colon < 1) {
      throw Failure.usage("'" + target + "' names no depot")
          .next("Write DEPOT:PATH, such as yard:collections/, or yard: for all of it");
    }
    if (TableName.parse(schema + ".t").isEmpty()) {
      throw Failure.usage("'" + schema + "' is no name for a schema");
    }
    List<FeedColumn> hints = ColumnHints.read(columns);
    try (Workspace workspace = new Workspace(configFile())) {
      Configuration configuration = workspace.configuration();
      if (name != null && !print && configuration.feeds().containsKey(name)) {
        throw there(name);
      }
      Depot depot =
          new ArchiveDepot(workspace.depot(target.substring(0, colon)), ContentLimits.DEFAULT);
      Map<String, StagedFile> files = files(depot, target.substring(colon + 1));
      Map<String, List<StagedFile>> groups = groups(screen, depot, files);
      List<Feed> added = new ArrayList<>();
      List<FeedDraft> brief = new ArrayList<>();
      int failed = 0;
      for (Map.Entry<String, List<StagedFile>> group : groups.entrySet()) {
        if (groups.size() > 1 && configuration.feeds().containsKey(group.getKey())) {
          screen.line(
              screen
                  .style()
                  .faint(
                      "feed " + group.getKey() + " is there already; its files were passed over"));
          continue;
        }
        try {
          List<StagedFile> staged = group.getValue();
          Optional<Feed> taking = taking(configuration, depot, staged);
          if (taking.isPresent() && !print) {
            screen.remark(
                "feed %s takes %s already; no second feed was drafted for such files"
                    .formatted(taking.get().name(), staged.get(0).path()));
            continue;
          }
          List<FeedDraft> drafts = new Drafter(depot, schema, hints).draft(group.getKey(), staged);
          for (FeedDraft draft : drafts) {
            if (groups.size() == 1 || evidence || print) {
              show(screen, workspace, draft, staged.size());
            } else {
              brief.add(draft);
              new DraftReport(screen).object(draft);
            }
            added.add(draft.feed());
          }
        } catch (RuntimeException | IOException | StackOverflowError e) {
          // One file's failure never keeps the others from being drafted.
          Failure failure = failure(group.getKey(), e);
          if (groups.size() == 1) {
            throw failure;
          }
          failed++;
          screen.remark(screen.style().bad("not drafted: ") + failure.getMessage());
        }
      }
      if (!brief.isEmpty()) {
        new DraftReport(screen).brief(brief);
      }
      finish(screen, workspace, added);
      return failed > 0 ? Failure.Kind.FILE.exitCode() : 0;
    }
  }

  private Map<String, StagedFile> files(Depot depot, String path) {
    boolean pattern = path.matches(".*[*?{].*");
    FilePattern wanted =
        FilePattern.of(pattern ? path : path.isEmpty() || path.endsWith("/") ? path + "**" : path);
    Map<String, StagedFile> files = new LinkedHashMap<>();
    Iterator<StagedFile> listing = depot.list(wanted.prefix());
    while (listing.hasNext() && files.size() < MOST_LISTED) {
      StagedFile file = listing.next();
      if (wanted.matches(file.path()) && file.size() > 0) {
        files.put(file.path(), file);
      }
    }
    if (files.isEmpty()) {
      throw Failure.usage("Depot " + depot.name() + " has no files at '" + path + "'")
          .next("Stage some with 'dusky stage', or look at what is there with 'dusky files'");
    }
    return files;
  }

  private static Failure failure(String group, Throwable e) {
    return e instanceof Failure known
        ? known
        : Failure.file("The files of " + group + " cannot be drafted")
            .because(String.valueOf(e))
            .next("Write the feed by hand; --debug shows where it was met")
            .from(e);
  }

  /** A feed of the configuration that takes one of these files. */
  private static Optional<Feed> taking(
      Configuration configuration, Depot depot, List<StagedFile> files) {
    return configuration.feeds().values().stream()
        .filter(feed -> feed.depot().equals(depot.name()))
        .filter(feed -> files.stream().anyMatch(file -> feed.files().matches(file.path())))
        .findFirst();
  }

  /** One group under the name given, or all groups under names of their own. */
  private Map<String, List<StagedFile>> groups(
      Screen screen, Depot depot, Map<String, StagedFile> files) {
    FileGroups found = FileGroups.of(depot, List.copyOf(files.values()));
    found
        .left()
        .forEach(
            (path, group) ->
                screen.remark(
                    "%s: %s differs from the files of feed %s, whose pattern takes it too; stage it"
                            .formatted(screen.style().bad("not drafted"), path, group)
                        + " under another name or folder"));
    Map<String, List<StagedFile>> groups = found.groups();
    if (name == null) {
      return groups;
    }
    if (groups.size() > 1) {
      throw Failure.usage("The files are of %d shapes".formatted(groups.size()))
          .because("they would be the feeds " + String.join(", ", groups.keySet()))
          .next("Leave --name out, or name one folder or pattern");
    }
    if (!name.matches("[a-z_][a-z0-9_]{0,59}")) {
      throw Failure.usage("'" + name + "' is no name for a feed and its table")
          .next("Use lower-case letters, digits and underscores");
    }
    return Map.of(name, groups.values().iterator().next());
  }

  private void show(Screen screen, Workspace workspace, FeedDraft draft, int files) {
    new DraftReport(screen).show(draft, files);
    Feed feed = draft.feed();
    screen.line("");
    if (print) {
      ConfigurationFile.lines(feed).forEach(screen::line);
      screen.line("");
    }
    screen.block(workspace.bareWarehouse().createStatement(feed.into(), feed.columns()) + ";");
    screen.line("");
  }

  private static Failure there(String feed) {
    return Failure.usage("There is a feed '" + feed + "' already")
        .next("Give the draft another name with --name, or print it with --print");
  }

  private void finish(Screen screen, Workspace workspace, List<Feed> feeds) throws IOException {
    if (!print && !feeds.isEmpty()) {
      ConfigurationFile file = ConfigurationFile.read(configFile());
      for (Feed feed : feeds) {
        if (workspace.configuration().feeds().containsKey(feed.name())) {
          throw there(feed.name());
        }
        file.add(feed);
      }
      file.write();
      screen.line(
          screen.style().good("wrote ")
              + Figures.plural(feeds.size(), "feed")
              + " into "
              + config
              + screen.style().faint("; 'dusky load' goes on from here"));
    }
    if (create) {
      for (Feed feed : feeds) {
        if (workspace.warehouse().shape(feed.into()).isEmpty()) {
          workspace.warehouse().create(feed.into(), feed.columns());
          screen.line(screen.style().good("made ") + "table " + feed.into());
        } else {
          screen.line("table " + feed.into() + " is there already");
        }
      }
    }
  }
}
