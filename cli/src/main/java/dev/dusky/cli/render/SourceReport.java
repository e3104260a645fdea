package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.ledger.SourceRun;
import dev.dusky.core.source.SourceListener;
import dev.dusky.core.source.SourceResult;
import dev.dusky.core.stage.LocalFile;
import java.util.LinkedHashMap;
import java.util.Map;

/** Shows how a source is read and staged. */
public final class SourceReport implements SourceListener {

  private final Screen screen;
  private final StageReport files;
  private final ProgressLine line;
  private long rows;

  /** A report on that screen. */
  public SourceReport(Screen screen, String source) {
    this.screen = screen;
    this.files = new StageReport(screen);
    this.line = new ProgressLine(screen);
    line.start("source " + source, 0);
  }

  @Override
  public synchronized void read(long more) {
    rows += more;
    line.update(0, rows);
  }

  @Override
  public synchronized void remark(String text) {
    line.clear();
    screen.remark(text);
  }

  @Override
  public void sent(long bytes) {
    // Files of this size are sent in no time.
  }

  @Override
  public synchronized void done(LocalFile file, Outcome outcome, String why) {
    line.clear();
    files.done(file, outcome, why);
  }

  /** Shows the sum. */
  public void end(String depot, SourceResult result) {
    line.clear();
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "source");
    fields.put("source", result.source());
    fields.put("depot", depot);
    fields.put("rows", result.run().map(SourceRun::rows).orElse(0L));
    fields.put("files", result.run().map(SourceRun::files).orElse(0));
    fields.put("manifest", result.run().map(SourceRun::manifest).orElse(null));
    fields.put("from", result.from().orElse(null));
    fields.put("high_water", result.run().flatMap(SourceRun::highWater).orElse(null));
    fields.put("continued", result.continued());
    screen.object(fields);
    String name = screen.style().strong(result.source());
    if (result.run().isEmpty()) {
      screen.line(
          "%s  nothing new%s; nothing was staged"
              .formatted(name, result.from().map(from -> " from " + from + " on").orElse("")));
      return;
    }
    SourceRun run = result.run().get();
    screen.line(
        "%s  %s in %s (%s)%s   %s"
            .formatted(
                name,
                Figures.plural(run.rows(), "row"),
                Figures.plural(run.files(), "file"),
                Figures.bytes(run.bytes()),
                result.continued() ? ", of a run that was stopped before" : "",
                Figures.duration(result.elapsed())));
    run.highWater()
        .ifPresent(
            high ->
                screen.line(
                    screen
                        .style()
                        .faint(
                            "%s up to %s%s"
                                .formatted(
                                    run.newer().orElse(""),
                                    high,
                                    result.from().map(from -> ", from " + from).orElse("")))));
    screen.line("manifest at %s:%s".formatted(depot, run.manifest()));
  }
}
