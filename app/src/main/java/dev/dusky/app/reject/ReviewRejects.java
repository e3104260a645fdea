package dev.dusky.app.reject;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FirstReject;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.mend.RejectFile;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableRule;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Groups, lists, exports, waives and removes rejects. */
public final class ReviewRejects {

  /**
   * Problems of one kind, with what explains them.
   *
   * @param group the problems
   * @param rows the rows of the files that have them
   * @param first when this kind of problem occurred first; empty if unknown
   * @param rules the rules of the feed's table
   * @param feed the feed, if it is still declared
   */
  public record Group(
      ProblemGroup group,
      long rows,
      Optional<FirstReject> first,
      List<TableRule> rules,
      Optional<Feed> feed) {}

  /**
   * Rejects written to files.
   *
   * @param count how many
   * @param files the files
   */
  public record Exported(long count, List<Path> files) {}

  private final Workspace workspace;

  /** A review in that workspace. */
  public ReviewRejects(Workspace workspace) {
    this.workspace = workspace;
  }

  private RejectEntries entries() {
    return workspace.warehouse().ledger().rejects();
  }

  /** The choice of a filter; a feed must be declared. */
  public RejectChoice choice(
      RejectFilter filter, String feed, List<Long> ids, Optional<RejectState> state) {
    if (feed != null) {
      workspace.configuration().feed(feed);
    }
    return filter.choice(Optional.ofNullable(feed), ids, state);
  }

  /** The problems of the chosen rejects, by feed, column and code. */
  public List<Group> groups(RejectChoice choice) {
    RejectEntries entries = entries();
    Map<String, Map<String, Long>> read = new HashMap<>();
    Map<String, Map<String, FirstReject>> firsts = new HashMap<>();
    Map<String, List<TableRule>> rules = new HashMap<>();
    List<Group> groups = new ArrayList<>();
    for (ProblemGroup group : entries.groups(choice).groups()) {
      Map<String, Long> rows = read.computeIfAbsent(group.feed(), entries::rowsRead);
      Optional<Feed> feed = feed(group.feed());
      groups.add(
          new Group(
              group,
              group.paths().stream().mapToLong(path -> rows.getOrDefault(path, 0L)).sum(),
              Optional.ofNullable(
                  firsts
                      .computeIfAbsent(group.feed(), entries::firsts)
                      .get(group.column() + " " + group.code().label())),
              feed.map(f -> rules.computeIfAbsent(f.name(), name -> rules(f))).orElse(List.of()),
              feed));
    }
    return groups;
  }

  private List<TableRule> rules(Feed feed) {
    return workspace.warehouse().tables().rules(feed.into());
  }

  /** The declared feed of that name. */
  public Optional<Feed> feed(String name) {
    return Optional.ofNullable(workspace.configuration().feeds().get(name));
  }

  /** The chosen rejects, up to a number. */
  public List<StoredReject> list(RejectChoice choice, int most) {
    return entries().list(choice, most);
  }

  /** Writes open rejects to files for repair. */
  public Exported export(Feed feed, RejectChoice choice, Path base, boolean replace)
      throws IOException {
    Files.createDirectories(base.getParent());
    if (!replace) {
      refuseExisting(base);
    }
    RejectFile file = new RejectFile(base, feed);
    try (file) {
      entries().forEach(choice, file::add);
    }
    return new Exported(file.count(), file.paths());
  }

  private static void refuseExisting(Path base) throws IOException {
    try (var siblings = Files.list(base.getParent())) {
      Optional<Path> existing =
          siblings
              .filter(p -> p.getFileName().toString().startsWith(base.getFileName() + "."))
              .findFirst();
      if (existing.isPresent()) {
        throw Failure.usage(existing.get() + " exists already")
            .hint("It may hold repairs: mend it first, name another with --to, or give --replace");
      }
    }
  }

  /** Waives the chosen open rejects and returns how many. */
  public long waive(RejectChoice choice, String reason) {
    return entries().waive(choice, Workspace.person(), reason);
  }

  /** Removes rejects that were settled that long ago, and returns how many. */
  public long purge(String feed, Duration age) {
    if (feed != null) {
      workspace.configuration().feed(feed);
    }
    return entries().purge(Optional.ofNullable(feed), Instant.now().minus(age), Workspace.person());
  }
}
