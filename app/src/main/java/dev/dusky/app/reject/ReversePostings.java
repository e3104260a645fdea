package dev.dusky.app.reject;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadHead;
import dev.dusky.core.ledger.MergedRows;
import dev.dusky.core.ledger.Reversed;
import dev.dusky.core.warehouse.Reversals;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Undoes posted loads and files. */
public final class ReversePostings {

  /**
   * The undone postings.
   *
   * @param reversed the files and rows
   * @param merged rows of them that targets still hold
   */
  public record Outcome(Reversed reversed, List<MergedRows> merged) {}

  private final Workspace workspace;
  private final String why;
  private final List<MergedRows> merged = new ArrayList<>();
  private final boolean evenMerged;

  /**
   * A reversal.
   *
   * @param reason kept in the ledger; may be blank
   * @param evenMerged whether it continues although rows are merged already
   */
  public ReversePostings(Workspace workspace, String reason, boolean evenMerged) {
    this.workspace = workspace;
    this.why = "reversed" + (reason.isBlank() ? "" : ": " + reason.strip());
    this.evenMerged = evenMerged;
  }

  private Reversals reversals() {
    Reversals reversals = workspace.warehouse().reversals();
    return evenMerged ? reversals.evenMerged(merged::add) : reversals;
  }

  /**
   * Undoes a load, or a file.
   *
   * @param what a load's number or a file's path
   * @param feed the feed of the file, if several have such files
   */
  public Outcome run(String what, Optional<String> feed) {
    workspace.closeInterrupted();
    Reversed reversed = what.matches("\\d{1,18}") ? load(Long.parseLong(what)) : file(what, feed);
    if (reversed.files().isEmpty()) {
      throw Failure.usage("No file of %s is posted".formatted(what))
          .hint(
              "See the posted files with {} and {}",
              Invocation.of("files"),
              Invocation.of("journal"));
    }
    return new Outcome(reversed, merged);
  }

  private Reversed load(long id) {
    LoadHead head =
        workspace
            .warehouse()
            .ledger()
            .journal()
            .load(id)
            .orElseThrow(
                () ->
                    Failure.usage("There is no load " + id)
                        .hint("See the loads with {}", Invocation.of("journal")));
    if (List.of("reverse", "replace", "restore").contains(head.kind())) {
      throw Failure.usage("Load %d only took rows out or brought them back".formatted(id))
          .hint("Its files wait: load them again with {}", Invocation.of("load", head.feed()));
    }
    Feed feed = workspace.configuration().feed(head.feed());
    return reversals()
        .load(workspace.start(feed), feed.into(), id, head.kind().equals("mend"), why);
  }

  private Reversed file(String path, Optional<String> named) {
    List<Feed> feeds =
        named
            .map(name -> List.of(workspace.configuration().feed(name)))
            .orElseGet(
                () ->
                    workspace.configuration().feeds().values().stream()
                        .filter(f -> f.files().matches(path))
                        .toList());
    if (feeds.size() > 1) {
      throw Failure.usage(path + " belongs to several feeds")
          .hint(
              "Choose one with --feed: "
                  + String.join(", ", feeds.stream().map(Feed::name).toList()));
    }
    return feeds.stream()
        .map(f -> reversals().file(workspace.start(f), f.into(), path, why))
        .findFirst()
        .orElseThrow(
            () ->
                Failure.usage("No feed has files like " + path)
                    .hint("Give the path as {} shows it", Invocation.of("files")));
  }
}
