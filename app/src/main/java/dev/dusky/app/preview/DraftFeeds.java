package dev.dusky.app.preview;

import dev.dusky.app.config.ColumnHints;
import dev.dusky.app.config.ConfigurationFile;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.draft.FileGroups;
import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.draft.HabitGuess;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.Tables;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Works out feeds from staged files and writes them into the configuration. */
public final class DraftFeeds {

  private static final int MOST_LISTED = 100_000;

  /** Follows the drafts. */
  public interface Listener {

    /** A file differs from others that its pattern takes too, and is not drafted. */
    void left(String path, String group);

    /** A feed of that name exists; its files are skipped. */
    void exists(String feed);

    /** A declared feed takes such files already; no second one is drafted. */
    void taken(String feed, String path);

    /** A feed is drafted. */
    void drafted(FeedDraft draft, int files);

    /** Files could not be drafted; others continue. */
    void failed(Failure failure);
  }

  /**
   * A request to draft feeds.
   *
   * @param target DEPOT:PATH
   * @param name the feed's name, if there is one
   * @param schema the schema of landing tables
   * @param columns settled columns, each {@code name=type}
   * @param write whether the drafts are written into the configuration
   */
  public record Request(
      String target, Optional<String> name, String schema, List<String> columns, boolean write) {}

  private final Workspace workspace;
  private final Request request;
  private final List<FeedColumn> hints;
  private final Depot depot;
  private final FileGroups found;
  private final Map<String, List<StagedFile>> groups;
  private final Map<String, HabitDraft> habits = new HashMap<>();

  /** Lists and groups the files that are asked for. */
  public DraftFeeds(Workspace workspace, Request request) throws IOException {
    this.workspace = workspace;
    this.request = request;
    int colon = request.target().indexOf(':');
    if (colon < 1) {
      throw Failure.usage("'" + request.target() + "' names no depot")
          .hint("Write DEPOT:PATH, such as yard:collections/, or yard: for all of it");
    }
    if (TableName.parse(request.schema() + ".t").isEmpty()) {
      throw Failure.usage("'" + request.schema() + "' is not a name for a schema");
    }
    this.hints = ColumnHints.read(request.columns());
    if (request.write()) {
      request.name().ifPresent(this::refuseExisting);
    }
    this.depot =
        new ArchiveDepot(
            workspace.depot(request.target().substring(0, colon)), ContentLimits.DEFAULT);
    Map<String, StagedFile> files = files(request.target().substring(colon + 1));
    this.found = FileGroups.of(depot, List.copyOf(files.values()));
    this.groups = named(found.groups());
  }

  private void refuseExisting(String feed) {
    if (workspace.configuration().feeds().containsKey(feed)) {
      throw Failure.usage("There is a feed '" + feed + "' already")
          .hint("Give the draft another name with --name, or print it with --print");
    }
  }

  private Map<String, StagedFile> files(String path) {
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
          .hint(
              "Stage some with {}, or list the files with {}",
              Invocation.of("stage"),
              Invocation.of("files"));
    }
    return files;
  }

  /** One group under the name given, or all groups under their own names. */
  private Map<String, List<StagedFile>> named(Map<String, List<StagedFile>> all) {
    if (request.name().isEmpty()) {
      return all;
    }
    String name = request.name().get();
    if (all.size() > 1) {
      throw Failure.usage("The files are of %d shapes".formatted(all.size()))
          .because("they would be the feeds " + String.join(", ", all.keySet()))
          .hint("Omit --name, or give one folder or pattern");
    }
    if (!name.matches("[a-z_][a-z0-9_]{0,59}")) {
      throw Failure.usage("'" + name + "' is not a name for a feed and its table")
          .hint("Use lower-case letters, digits and underscores");
    }
    return Map.of(name, all.values().iterator().next());
  }

  /** Whether all files have one shape. */
  public boolean single() {
    return groups.size() == 1;
  }

  /** Drafts the feeds and returns them. */
  public List<Feed> run(Listener listener) {
    found.left().forEach(listener::left);
    List<Feed> drafted = new ArrayList<>();
    for (Map.Entry<String, List<StagedFile>> group : groups.entrySet()) {
      if (!single() && workspace.configuration().feeds().containsKey(group.getKey())) {
        listener.exists(group.getKey());
        continue;
      }
      try {
        drafted.addAll(draft(group.getKey(), group.getValue(), listener));
      } catch (RuntimeException | IOException | StackOverflowError e) {
        // One file's failure never keeps the others from being drafted.
        Failure failure = failure(group.getKey(), e);
        if (single()) {
          throw failure;
        }
        listener.failed(failure);
      }
    }
    return drafted;
  }

  private List<Feed> draft(String name, List<StagedFile> files, Listener listener)
      throws IOException {
    Optional<Feed> taking = taking(files);
    if (taking.isPresent() && request.write()) {
      listener.taken(taking.get().name(), files.get(0).path());
      return List.of();
    }
    List<FeedDraft> drafts = new Drafter(depot, request.schema(), hints).draft(name, files);
    for (FeedDraft draft : drafts) {
      HabitDraft habit = new HabitGuess(draft.feed().files(), files).guess();
      habits.put(draft.feed().name(), habit);
      listener.drafted(draft.withEvidence(habit.evidence()), files.size());
    }
    return drafts.stream().map(FeedDraft::feed).toList();
  }

  /** A declared feed that takes one of these files. */
  private Optional<Feed> taking(List<StagedFile> files) {
    return workspace.configuration().feeds().values().stream()
        .filter(feed -> feed.depot().equals(depot.name()))
        .filter(feed -> files.stream().anyMatch(file -> feed.files().matches(file.path())))
        .findFirst();
  }

  private static Failure failure(String group, Throwable e) {
    return e instanceof Failure known
        ? known
        : Failure.file("The files of " + group + " cannot be drafted")
            .because(String.valueOf(e))
            .hint("Write the feed by hand; --debug shows where the error occurred")
            .from(e);
  }

  private HabitDraft habit(Feed feed) {
    return habits.getOrDefault(feed.name(), HabitDraft.NONE);
  }

  /** The lines of a feed in the configuration. */
  public List<String> lines(Feed feed) {
    return ConfigurationFile.lines(feed, habit(feed));
  }

  /** The statement that creates a feed's landing table. */
  public String createStatement(Feed feed) {
    return workspace.bareWarehouse().tables().createStatement(feed.into(), feed.columns());
  }

  /** Writes feeds into the configuration file. */
  public void write(List<Feed> feeds, Path configuration) throws IOException {
    ConfigurationFile file = ConfigurationFile.read(configuration);
    for (Feed feed : feeds) {
      refuseExisting(feed.name());
      file.add(feed, habit(feed));
    }
    file.write();
  }

  /** Creates a feed's landing table; false if it exists. */
  public boolean create(Feed feed) {
    Tables tables = workspace.warehouse().tables();
    if (tables.shape(feed.into()).isPresent()) {
      return false;
    }
    tables.create(feed);
    return true;
  }
}
