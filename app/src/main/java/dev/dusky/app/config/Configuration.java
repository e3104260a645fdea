package dev.dusky.app.config;

import dev.dusky.core.expect.Timetable;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeOrder;
import dev.dusky.core.source.Source;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.depots.address.DepotAddress;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A whole {@code dusky.yaml}, checked.
 *
 * @param file where it was read from
 * @param text its text, which has no secrets but names where they are
 * @param warehouse the warehouse
 * @param depots the depots by name
 * @param layouts the layouts by name
 * @param feeds the feeds by name, in order
 * @param timetables when files are expected, by feed
 * @param merges the merges by name, in order
 * @param sources the sources by name, in order
 * @param watch how feeds are looked after
 * @param alerts which alerts are sent to whom, if any are
 * @param prices what resources cost, if it is known
 * @param lines the lines on which feeds and their columns are declared, by feed and feed.column
 */
public record Configuration(
    Path file,
    String text,
    WarehouseSettings warehouse,
    Map<String, DepotAddress> depots,
    Map<String, Layout> layouts,
    Map<String, Feed> feeds,
    Map<String, Timetable> timetables,
    Map<String, Merge> merges,
    Map<String, Source> sources,
    WatchSettings watch,
    Optional<AlertSettings> alerts,
    Optional<Prices> prices,
    Map<String, Integer> lines) {

  /** Reads a configuration, or fails with everything that is wrong with it. */
  public static Configuration read(Path file) {
    if (!Files.isRegularFile(file)) {
      throw Failure.configuration("There is no configuration " + file)
          .hint("Write one with {}, or give yours with --config FILE", Invocation.of("init"));
    }
    try {
      return read(file, Files.readString(file));
    } catch (IOException e) {
      throw Failure.configuration("The configuration " + file + " cannot be read")
          .because(String.valueOf(e.getMessage()))
          .from(e);
    }
  }

  /**
   * Reads the text of a configuration.
   *
   * @param file where it is kept, perhaps on another machine
   */
  public static Configuration read(Path file, String text) {
    ConfigProblems problems = new ConfigProblems();
    try {
      Node root = new YamlTree(problems).readText(text);
      problems.failIfAny(file);
      Configuration configuration =
          new ConfigurationReader(file, text, problems, System.getenv()).read(root);
      problems.failIfAny(file);
      return configuration;
    } catch (IOException e) {
      throw Failure.configuration("The configuration " + file + " cannot be read")
          .because(String.valueOf(e.getMessage()))
          .from(e);
    }
  }

  /** The line of the file on which a column of a feed is declared, if it is known. */
  public Optional<Integer> columnLine(String feed, String column) {
    return Optional.ofNullable(lines.get(feed + "." + column));
  }

  /** The directory that relative places start from. */
  public Path base() {
    return file.toAbsolutePath().getParent();
  }

  /** The feed with this name. */
  public Feed feed(String name) {
    return named("feed", name, feeds);
  }

  /** The feeds with these names, or all. */
  public List<Feed> feedsOrAll(Collection<String> names) {
    if (feeds.isEmpty()) {
      throw Failure.configuration(file + " declares no feed").hint("Add one under feeds");
    }
    return names.isEmpty()
        ? List.copyOf(feeds.values())
        : names.stream().distinct().map(this::feed).toList();
  }

  /** The merges with these names, or all, in the order in which they run. */
  public List<Merge> mergesOrAll(Collection<String> names) {
    if (merges.isEmpty()) {
      throw Failure.configuration(file + " declares no merge").hint("Add one under merges");
    }
    Collection<Merge> chosen =
        names.isEmpty()
            ? merges.values()
            : names.stream().distinct().map(name -> named("merge", name, merges)).toList();
    return new MergeOrder(merges).of(chosen);
  }

  /** The feeds of the same depot as this one. */
  public List<Feed> feedsOf(Feed feed) {
    return feeds.values().stream().filter(f -> f.depot().equals(feed.depot())).toList();
  }

  /** The depot with this name. */
  public DepotAddress depot(String name) {
    return named("depot", name, depots);
  }

  /** The source with this name. */
  public Source source(String name) {
    return named("source", name, sources);
  }

  /** The layout with this name. */
  public Layout layout(String name) {
    return named("layout", name, layouts);
  }

  private static <T> T named(String kind, String name, Map<String, T> all) {
    T found = all.get(name);
    if (found != null) {
      return found;
    }
    Optional<String> near = NearestName.of(name, all.keySet());
    throw Failure.usage("There is no %s '%s'".formatted(kind, name))
        .because(
            all.isEmpty()
                ? "the configuration declares none"
                : "declared are " + String.join(", ", all.keySet()))
        .hint(near.map(n -> "Did you mean '" + n + "'?").orElse(""));
  }
}
