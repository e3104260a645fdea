package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.reject.ReversePostings.Outcome;
import dev.dusky.core.ledger.MergedRows;
import dev.dusky.core.ledger.Reversed;
import java.util.LinkedHashMap;
import java.util.Map;

/** Shows what was reversed. */
public final class ReversalReport {

  private final Screen screen;

  /** A report on that screen. */
  public ReversalReport(Screen screen) {
    this.screen = screen;
  }

  /** Shows it. */
  public void show(Outcome outcome) {
    Reversed reversed = outcome.reversed();
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "reversed");
    fields.put("load", reversed.loadId());
    fields.put("rows", reversed.rows());
    fields.put("restored", reversed.restored());
    fields.put("files", reversed.files());
    fields.put(
        "merged",
        outcome.merged().stream()
            .map(m -> Map.of("merge", m.merge(), "into", m.into(), "rows", m.rows()))
            .toList());
    screen.object(fields);
    outcome.merged().forEach(this::merged);
    reversed
        .files()
        .forEach(path -> screen.line("  " + screen.style().state("reversed") + "  " + path));
    screen.line(
        "%s removed, %s to be loaded again; entered as load %d"
            .formatted(
                Figures.plural(reversed.rows(), "row"),
                reversed.files().size() == 1
                    ? "1 file waits"
                    : reversed.files().size() + " files wait",
                reversed.loadId()));
    if (reversed.restored() > 0) {
      screen.line(
          "%s back that the load had replaced"
              .formatted(
                  reversed.restored() == 1
                      ? "1 row is"
                      : Figures.plural(reversed.restored(), "row") + " are"));
    }
  }

  private void merged(MergedRows rows) {
    screen.line(
        screen
            .style()
            .notable(
                "%s holds the result of merge %d (%s) for %s of them; load and merge again to correct it"
                    .formatted(
                        rows.into(),
                        rows.mergeId(),
                        rows.merge(),
                        Figures.plural(rows.rows(), "row"))));
  }
}
