package dev.dusky.app.load;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.FiguresJson;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Hint;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.Selection;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The feeds and files that a load is asked for.
 *
 * @param feeds the feeds
 * @param selections for each feed its files, if they were named
 * @param notes what people should know before it begins
 */
public record ChosenFiles(List<Feed> feeds, Map<String, Selection> selections, List<String> notes) {

  /** The files of a feed, if they were named. */
  public Optional<Selection> selection(Feed feed) {
    return Optional.ofNullable(selections.get(feed.name()));
  }

  /** Works out what the command line asks for. */
  public static ChosenFiles of(
      Workspace workspace, List<String> names, String manifest, String again) {
    if (manifest != null && again != null) {
      throw Failure.usage("--manifest and --again cannot be combined");
    }
    List<Feed> feeds = workspace.configuration().feedsOrAll(names);
    if (again != null) {
      return again(workspace, feeds, again);
    }
    if (manifest != null) {
      return listed(workspace, feeds, manifest);
    }
    return new ChosenFiles(feeds, Map.of(), List.of());
  }

  private static ChosenFiles again(Workspace workspace, List<Feed> feeds, String path) {
    List<Feed> fitting = feeds.stream().filter(feed -> feed.files().matches(path)).toList();
    if (fitting.size() != 1) {
      throw Failure.usage(
              fitting.isEmpty()
                  ? "No feed has files like " + path
                  : path + " belongs to several feeds")
          .hint(
              fitting.isEmpty()
                  ? Hint.of("Give the path as {} shows it", Invocation.of("files"))
                  : Hint.of("Name the feed before --again"));
    }
    Feed feed = fitting.get(0);
    StagedFile file =
        workspace
            .depot(feed)
            .look(path)
            .orElseThrow(
                () ->
                    Failure.usage("There is no %s in depot %s".formatted(path, feed.depot()))
                        .hint("See what is there with {}", Invocation.of("files", feed.name())));
    return new ChosenFiles(fitting, Map.of(feed.name(), Selection.again(file)), List.of());
  }

  private static ChosenFiles listed(Workspace workspace, List<Feed> feeds, String place) {
    int colon = place.indexOf(':');
    if (colon < 1) {
      throw Failure.usage("--manifest cannot be '" + place + "'")
          .hint("Write depot:path, such as yard:day.json");
    }
    String depotName = place.substring(0, colon);
    Manifest manifest = read(workspace.depot(depotName), place, place.substring(colon + 1));
    List<Feed> concerned = feeds.stream().filter(f -> f.depot().equals(depotName)).toList();
    Map<String, List<StagedFile>> files = new LinkedHashMap<>();
    Set<String> present = new HashSet<>();
    for (Manifest.Entry entry : manifest.files().values()) {
      Feed feed =
          concerned.stream()
              .filter(f -> f.files().matches(entry.path()))
              .findFirst()
              .orElseThrow(
                  () ->
                      Failure.configuration(place + " cannot be used")
                          .because(
                              "no feed of depot %s has files like %s"
                                  .formatted(depotName, entry.path()))
                          .hint(
                              "Nothing was loaded. Declare a feed for it, or remove it from the list"));
      workspace
          .depot(feed)
          .look(entry.path())
          .ifPresent(
              file -> {
                present.add(file.path());
                files.computeIfAbsent(feed.name(), name -> new ArrayList<>()).add(file);
              });
    }
    List<String> missing = manifest.missing(present, true);
    if (!missing.isEmpty()) {
      throw Failure.file(
              "Nothing was loaded: %d required %s missing"
                  .formatted(
                      missing.size(),
                      missing.size() == 1
                          ? "file of the manifest is"
                          : "files of the manifest are"))
          .because(String.join(", ", missing.stream().limit(5).toList()))
          .hint("Load again once they are staged");
    }
    List<String> notes =
        manifest.missing(present, false).stream()
            .map(path -> "optional file %s of the manifest is not there".formatted(path))
            .toList();
    Map<String, Selection> selections = new LinkedHashMap<>();
    files.forEach(
        (feed, list) ->
            selections.put(
                feed,
                new Selection(
                    list.stream().sorted(java.util.Comparator.comparing(StagedFile::path)).toList(),
                    Optional.of(manifest),
                    false)));
    return new ChosenFiles(
        concerned.stream().filter(f -> selections.containsKey(f.name())).toList(),
        selections,
        notes);
  }

  private static Manifest read(Depot depot, String place, String path) {
    StagedFile file =
        depot
            .look(path)
            .orElseThrow(
                () ->
                    Failure.usage("There is no manifest " + place)
                        .hint(
                            "Stage it, or write one with {}",
                            Invocation.of("stage", "--manifest")));
    if (file.size() > FiguresJson.MOST_BYTES) {
      throw Failure.configuration(place + " is too large for a manifest");
    }
    try (InputStream in = depot.open(file)) {
      return FiguresJson.manifest(place, in.readAllBytes());
    } catch (IOException e) {
      throw new UncheckedIOException("reading manifest " + place, e);
    }
  }
}
