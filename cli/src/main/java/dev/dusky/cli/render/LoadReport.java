package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.load.LoadFeeds;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.tally.Tally;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows a load while it runs and when it is done. */
public final class LoadReport implements LoadFeeds.Listener, AutoCloseable {

  /** The maximum number of drifts shown per file. */
  private static final int MOST_DRIFTS = 5;

  private final Screen screen;
  private final Style style;
  private final boolean rehearsal;
  private final boolean all;
  private FileLines lines;
  private FileBars bars;

  private LoadReport(Screen screen, boolean rehearsal, boolean all) {
    this.screen = screen;
    this.style = screen.style();
    this.rehearsal = rehearsal;
    this.all = all;
  }

  /**
   * The report of a load.
   *
   * @param all whether every file is listed, however many there are
   */
  public static LoadReport load(Screen screen, boolean all) {
    return new LoadReport(screen, false, all);
  }

  /**
   * The report of a load that is only rehearsed.
   *
   * @param all whether every file is listed, however many there are
   */
  public static LoadReport rehearsal(Screen screen, boolean all) {
    return new LoadReport(screen, true, all);
  }

  @Override
  public void interrupted(List<Long> loads) {
    for (long load : loads) {
      screen.line(
          style.notable("load " + load + " was interrupted earlier")
              + "; what it had not posted is loaded now");
      screen.object(Map.of("event", "interrupted", "load", load));
    }
  }

  @Override
  public LoadListener of(Feed feed) {
    lines = new FileLines(screen, feed.name(), all);
    bars = new FileBars(screen, feed.name());
    return new Listener(feed.name(), lines, bars);
  }

  /** Takes the bars away and writes what is left of the last feed, however its load ended. */
  @Override
  public void close() {
    if (lines != null) {
      bars.clear();
      lines.end();
    }
  }

  private final class Listener implements LoadListener {
    private final String feed;
    private final FileLines listed;
    private final FileBars bars;

    Listener(String feed, FileLines listed, FileBars bars) {
      this.feed = feed;
      this.listed = listed;
      this.bars = bars;
    }

    @Override
    public synchronized void remark(String text) {
      bars.clear();
      screen.remark(text);
    }

    @Override
    public synchronized void started(StagedFile file) {
      bars.started(file);
    }

    @Override
    public synchronized void progress(StagedFile file, long rows, long storedBytes) {
      bars.progress(file, rows, storedBytes);
    }

    @Override
    public synchronized void finished(FileResult result) {
      bars.clear();
      bars.finished(result.file(), result.state());
      screen.object(json(feed, result));
      List<String> text = new ArrayList<>(line(result));
      drifts(result, text);
      listed.add(result.state(), text);
    }
  }

  private void drifts(FileResult result, List<String> text) {
    int shown = 0;
    for (Drift drift : result.drifts()) {
      if (drift.action() == Drift.Action.REFUSED) {
        continue; // the refusal says it
      }
      if (++shown > MOST_DRIFTS) {
        text.add(style.faint("            more of it with dusky journal --drift"));
        return;
      }
      text.add(
          "            " + style.notable("drift") + "  " + TableText.visible(drift.toString()));
    }
  }

  private List<String> line(FileResult result) {
    String state = result.state().label();
    String head =
        "  "
            + (rehearsal ? style.faint("would be ") : "")
            + style.state(padded(state, 8))
            + "  "
            + TableText.visible(result.file().path());
    Tally tally = result.tally();
    return switch (result.state()) {
      case POSTED ->
          List.of(
              head
                  + "  "
                  + style.faint(
                      TallyFigures.sum(tally) + "  " + Figures.duration(result.elapsed())));
      case REFUSED -> {
        List<String> lines = new ArrayList<>(List.of(head, "            " + result.message()));
        if (tally.read() > 0) {
          lines.add(
              (rehearsal
                      ? "            it would not be loaded: read "
                      : "            it was not loaded: read ")
                  + Figures.count(tally.read())
                  + ", rejected "
                  + Figures.count(tally.rejected())
                  + ", without fault "
                  + Figures.count(tally.withheld())
                  + (tally.rejected() > 0 && !rehearsal ? "; see dusky rejects" : ""));
        }
        yield lines;
      }
      default -> List.of(head + "  " + style.faint(result.message()));
    };
  }

  private static String padded(String text, int width) {
    return text + " ".repeat(Math.max(0, width - text.length()));
  }

  private static Map<String, Object> json(String feed, FileResult result) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "file");
    fields.put("feed", feed);
    fields.put("path", result.file().path());
    fields.put("state", result.state().label());
    fields.putAll(TallyFigures.fields(result.tally()));
    fields.put("seconds", result.elapsed().toMillis() / 1000.0);
    fields.put("message", result.message());
    fields.put("drifts", result.drifts().stream().map(LoadReport::drift).toList());
    return fields;
  }

  private static Map<String, Object> drift(Drift drift) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("field", drift.field());
    fields.put("change", drift.change().label());
    fields.put("seen", drift.seen());
    fields.put("action", drift.action().label());
    fields.put("records", drift.records());
    fields.put("statement", drift.statement().orElse(null));
    return fields;
  }

  @Override
  public void note(String text) {
    screen.line(style.notable(text));
    screen.object(Map.of("event", "note", "message", text));
  }

  @Override
  public void delivered(String text) {
    screen.line(style.faint("  " + text));
  }

  @Override
  public void undelivered(String text) {
    screen.remark(text);
  }

  @Override
  public void loaded(LoadResult result) {
    close();
    screen.object(totalJson(result));
    result
        .aside()
        .pause()
        .ifPresent(
            pause ->
                screen.line(
                    "%s  %s; dusky resume %s resumes it"
                        .formatted(
                            style.strong(result.feed()), style.notable(pause), result.feed())));
    if (result.idle() && result.aside().pause().isPresent()) {
      return;
    }
    if (result.idle()) {
      screen.line(
          "%s  nothing to load; %s%s"
              .formatted(
                  style.strong(result.feed()),
                  settled(result.before()),
                  result.aside().unready() == 0
                      ? ""
                      : ", "
                          + Figures.plural(result.aside().unready(), "file")
                          + " still being written"));
      return;
    }
    screen.line(
        style.strong(result.feed())
            + "  "
            + TallyText.line(result.tally(), result.elapsed(), style));
    String which = rehearsal ? "would be" : "load " + result.loadId();
    screen.line(style.faint("%s: %s".formatted(which, FileCounts.of(result))));
    if (result.replaced().rows() > 0) {
      screen.line(
          style.notable(
                  "%s %s of %s"
                      .formatted(
                          rehearsal ? "it would replace" : "it replaced",
                          Figures.plural(result.replaced().rows(), "row"),
                          Figures.plural(result.replaced().files(), "file")))
              + (rehearsal
                  ? ""
                  : style.faint("; dusky reverse %d brings them back".formatted(result.loadId()))));
    }
    if (result.repeatsSeen() > 0) {
      screen.line(
          style.notable(
              "%s identical to another row of its file, and loaded; 'repeats: row' in the feed removes such rows"
                  .formatted(
                      result.repeatsSeen() == 1
                          ? "1 row is"
                          : Figures.plural(result.repeatsSeen(), "row") + " are")));
    }
  }

  private static String settled(long before) {
    return before == 0
        ? "the depot has no matching files"
        : Figures.count(before) + (before == 1 ? " file is" : " files are") + " settled already";
  }

  private static Map<String, Object> totalJson(LoadResult result) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "load");
    fields.put("feed", result.feed());
    fields.put("load", result.loadId());
    for (FileState state : FileState.values()) {
      fields.put(state.label(), result.count(state));
    }
    fields.put("repeats_seen", result.repeatsSeen());
    fields.put("replaced_files", result.replaced().files());
    fields.put("replaced_rows", result.replaced().rows());
    fields.put("settled_before", result.before());
    fields.put("claimed_elsewhere", result.claimed());
    fields.put("unready", result.aside().unready());
    fields.put("changed_meanwhile", result.aside().changed());
    fields.put("pause", result.aside().pause().orElse(null));
    fields.putAll(TallyFigures.fields(result.tally()));
    fields.put("seconds", result.elapsed().toMillis() / 1000.0);
    return fields;
  }
}
