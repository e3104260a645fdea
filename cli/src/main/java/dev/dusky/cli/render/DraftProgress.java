package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.preview.DraftFeeds;
import dev.dusky.cli.process.Launcher;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Shows drafts as they are made: one in full, several in a line each. */
public final class DraftProgress implements DraftFeeds.Listener {

  private final Screen screen;
  private final Style style;
  private final DraftFeeds drafts;
  private final boolean full;
  private final boolean print;
  private final DraftReport report;
  private final List<FeedDraft> brief = new ArrayList<>();
  private int failures;

  /**
   * A report on that screen.
   *
   * @param evidence whether all evidence is shown for several feeds too
   * @param print whether the lines of the configuration are printed
   */
  public DraftProgress(Screen screen, DraftFeeds drafts, boolean evidence, boolean print) {
    this.screen = screen;
    this.style = screen.style();
    this.drafts = drafts;
    this.full = drafts.single() || evidence || print;
    this.print = print;
    this.report = new DraftReport(screen);
  }

  /** The number of groups that could not be drafted. */
  public int failures() {
    return failures;
  }

  @Override
  public void left(String path, String group) {
    screen.remark(
        "%s: %s differs from the files of feed %s, whose pattern takes it too; stage it"
                .formatted(style.bad("not drafted"), path, group)
            + " under another name or folder");
  }

  @Override
  public void exists(String feed) {
    screen.line(style.faint("feed " + feed + " exists already; its files were skipped"));
  }

  @Override
  public void taken(String feed, String path) {
    screen.remark(
        "feed %s already reads %s; no second feed was drafted for these files"
            .formatted(feed, path));
  }

  @Override
  public void failed(Failure failure) {
    failures++;
    screen.remark(style.bad("not drafted: ") + failure.message(Launcher::words));
  }

  @Override
  public void drafted(FeedDraft draft, int files) {
    if (!full) {
      brief.add(draft);
      report.object(draft);
      return;
    }
    report.show(draft, files);
    Feed feed = draft.feed();
    screen.line("");
    if (print) {
      drafts.lines(feed).forEach(screen::line);
      screen.line("");
    }
    screen.block(drafts.createStatement(feed) + ";");
    screen.line("");
  }

  /** All drafts are made. */
  public void end() {
    if (!brief.isEmpty()) {
      report.brief(brief);
    }
  }

  /** Feeds were written into the configuration. */
  public void written(int feeds, Path configuration) {
    screen.line(
        style.good("wrote ")
            + Figures.plural(feeds, "feed")
            + " into "
            + configuration
            + style.faint("; 'dusky load' loads their files"));
  }

  /** A landing table was created, or existed. */
  public void created(Feed feed, boolean created) {
    screen.line(
        created
            ? style.good("created ") + "table " + feed.into()
            : "table " + feed.into() + " exists already");
  }
}
