package dev.dusky.app.preview;

import dev.dusky.app.config.LayoutOptions;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.draft.Drafter;
import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.preview.Preview;
import java.io.IOException;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/** Shows records of a staged file as a layout reads them. */
public final class PeekFile {

  /**
   * A file with some of its records.
   *
   * @param file the file
   * @param layout the layout that it was read with
   * @param declared whether that is a declared feed's
   * @param preview the records
   */
  public record Peeked(StagedFile file, Layout layout, boolean declared, Preview preview) {}

  private final Workspace workspace;
  private final PeekRequest request;
  private final Optional<Feed> declared;
  private final Depot depot;
  private final StagedFile file;

  /** Finds the file that is asked for. */
  public PeekFile(Workspace workspace, PeekRequest request) {
    this.workspace = workspace;
    this.request = request;
    String target = request.target();
    int colon = target.indexOf(':');
    this.declared =
        colon >= 0 ? Optional.empty() : Optional.of(workspace.configuration().feed(target));
    this.depot =
        declared
            .map(workspace::depot)
            .orElseGet(
                () ->
                    new ArchiveDepot(
                        workspace.depot(target.substring(0, colon)), ContentLimits.DEFAULT));
    this.file =
        declared.isPresent() && request.path().isEmpty()
            ? first(declared.get())
            : named(request.path().orElse(target.substring(colon + 1)));
  }

  private StagedFile first(Feed feed) {
    Iterator<StagedFile> files = depot.list(feed.files().prefix());
    while (files.hasNext()) {
      StagedFile candidate = files.next();
      if (feed.files().matches(candidate.path())) {
        return candidate;
      }
    }
    throw Failure.usage("Feed " + feed.name() + " has no files yet")
        .because("nothing in depot " + depot.name() + " fits " + feed.files())
        .hint("Stage some with {}", Invocation.of("stage"));
  }

  private StagedFile named(String wanted) {
    return depot
        .look(wanted)
        .orElseThrow(
            () ->
                Failure.usage("There is no file " + wanted + " in depot " + depot.name())
                    .hint("See what is there with {}", Invocation.of("files")));
  }

  /** The file. */
  public StagedFile file() {
    return file;
  }

  /** The file's bytes, decompressed. */
  public FileContent content() throws IOException {
    return new FileContent(file.path(), depot.open(file), ContentLimits.DEFAULT);
  }

  /** The records. */
  public Peeked records() throws IOException {
    Feed feed = feed();
    feed = feed.withWhere(condition(feed));
    Preview preview = Preview.at(depot, file, feed, request.mode(), request.most(), request.seed());
    return new Peeked(file, feed.layout(), declared.isPresent(), preview);
  }

  /** The feed to read with: the declared one, or the columns that a layout finds in the file. */
  private Feed feed() throws IOException {
    Drafter drafter = new Drafter(depot, "draft", List.of());
    if (request.layout().isEmpty() && request.with().isEmpty()) {
      return declared.isPresent() ? declared.get() : drafted(drafter);
    }
    return drafter.columnsOf(file, LayoutOptions.with(layout(drafter), request.with()));
  }

  private Feed drafted(Drafter drafter) throws IOException {
    return drafter.draft("draft", List.of(file)).get(0).feed();
  }

  private Layout layout(Drafter drafter) throws IOException {
    if (request.layout().isPresent()) {
      return workspace.configuration().layout(request.layout().get());
    }
    if (declared.isPresent()) {
      return declared.get().layout();
    }
    return request.with().stream().anyMatch(option -> option.startsWith("kind="))
        ? DelimitedLayout.plain("given")
        : drafted(drafter).layout();
  }

  private Optional<Formula> condition(Feed feed) {
    if (request.where().isEmpty()) {
      return feed.where();
    }
    String where = request.where().get();
    try {
      Formula formula = Formula.of(where);
      for (String name : formula.names()) {
        if (!known(feed, name)) {
          throw new ExpressionFault(
              Math.max(0, where.indexOf(name)),
              "there is no column '%s'; there are %s"
                  .formatted(
                      name,
                      String.join(", ", feed.columns().stream().map(FeedColumn::name).toList())));
        }
      }
      FeedInputs.of(feed.withWhere(Optional.of(formula))).check(formula, null, true);
      return Optional.of(formula);
    } catch (ExpressionFault fault) {
      throw Failure.usage("--where cannot be evaluated")
          .because(
              "at character %d, %s\n      %s\n      %s^"
                  .formatted(fault.at() + 1, fault.getMessage(), where, " ".repeat(fault.at())));
    }
  }

  private static boolean known(Feed feed, String name) {
    return feed.columns().stream().anyMatch(c -> c.name().equals(name))
        || feed.ignore().contains(name)
        || feed.layout().naming() == FieldNaming.PATH && !name.matches("\\w+")
        || name.startsWith("field_");
  }
}
