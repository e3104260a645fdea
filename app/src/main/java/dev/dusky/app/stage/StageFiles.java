package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.split.RecordForm;
import dev.dusky.core.split.SplitPlan;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.SplitStager;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/** Puts files into a depot, as they are or cut and compressed. */
public final class StageFiles implements AutoCloseable {

  private static final int MOST_PARALLEL = 64;

  private final Workspace workspace;
  private final Depot depot;
  private final RemoteFiles elsewhere;
  private final List<LocalFile> files;

  /** Files to be staged. */
  public StageFiles(Workspace workspace, String depot, ChosenFiles chosen) throws IOException {
    this.workspace = workspace;
    this.depot = workspace.depot(depot);
    this.elsewhere = new RemoteFiles(workspace);
    this.files = chosen.find(elsewhere);
  }

  /** The files. */
  public List<LocalFile> files() {
    return files;
  }

  /**
   * Stages them, several at a time.
   *
   * @param layout the layout by which files are cut; by that of their feed if it is empty
   * @param manifest where in the depot a manifest of them is written once all are there
   */
  public StageResult run(
      StagePlan plan,
      SplitPlan split,
      Optional<String> layout,
      Optional<String> manifest,
      StageListener listener)
      throws IOException {
    if (plan.connections() < 1 || plan.connections() > MOST_PARALLEL) {
      throw Failure.usage("--parallel must be from 1 to " + MOST_PARALLEL);
    }
    boolean fetched = files.stream().anyMatch(file -> file.origin().isPresent());
    if (fetched && plan.move()) {
      throw Failure.usage("--move is for local files")
          .because("files at a URL are only read")
          .hint("Leave it out, or remove them there yourself");
    }
    if (fetched && manifest.isPresent() && split.none()) {
      throw Failure.usage("--manifest needs the files here before they are staged")
          .because("it lists digests, and files at a URL are fetched one by one")
          .hint("Add --compress or --split, or fetch them before");
    }
    if (!split.none()) {
      Optional<Layout> named = layout.map(workspace.configuration()::layout);
      SplitStager stager = new SplitStager(depot, plan, split, file -> form(file, named), listener);
      StageResult result = stager.run(files);
      write(manifest, result, stager.entries());
      return result;
    }
    List<Manifest.Entry> entries = manifest.isPresent() ? StagedManifest.entries(files) : List.of();
    StageResult result = new Stager(depot, plan).run(files, listener);
    write(manifest, result, entries);
    return result;
  }

  private void write(Optional<String> manifest, StageResult result, List<Manifest.Entry> entries)
      throws IOException {
    if (manifest.isPresent() && result.whole()) {
      StagedManifest.write(depot, manifest.get(), entries);
    }
  }

  /** How a file's records are found: by the layout that was named, or that of the file's feed. */
  private RecordForm form(LocalFile file, Optional<Layout> layout) {
    Optional<Feed> feed =
        workspace.configuration().feedsOrAll(List.of()).stream()
            .filter(f -> f.depot().equals(depot.name()) && f.files().matches(file.path()))
            .findFirst();
    if (layout.isEmpty() && feed.isEmpty()) {
      throw Failure.usage(file.path() + " is a file of no feed of depot " + depot.name())
          .because("only a layout says where its records end")
          .hint("Name one of the configuration with --layout");
    }
    return new RecordForm(layout.orElseGet(() -> feed.orElseThrow().layout()), feed);
  }

  @Override
  public void close() {
    elsewhere.close();
  }
}
