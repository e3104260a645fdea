package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.tidy.Tidied;
import java.util.LinkedHashMap;
import java.util.Map;

/** Shows what was done to keep tables tidy. */
public final class TidyReport {

  private final Screen screen;
  private final boolean rehearsed;
  private int shown;
  private int failed;

  /** A report on that screen. */
  public TidyReport(Screen screen, boolean rehearsed) {
    this.screen = screen;
    this.rehearsed = rehearsed;
  }

  /** Shows one table, or the files that no table needs. */
  public void show(Tidied tidied) {
    shown++;
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("table", tidied.table());
    fields.put("former_states", tidied.states());
    fields.put("small_files", tidied.small());
    fields.put("rewritten_into", tidied.into());
    fields.put("leftover_files", tidied.leftovers());
    fields.put("leftover_bytes", tidied.bytes());
    fields.put("rehearsed", rehearsed);
    fields.put("failure", tidied.failure());
    screen.object(fields);
    String name = tidied.table().isEmpty() ? "leftovers" : tidied.table();
    if (!tidied.failure().isEmpty()) {
      failed++;
      screen.line("%s  not tidied: %s".formatted(name, tidied.failure()));
    } else if (tidied.table().isEmpty()) {
      screen.line(
          "%s  %s that no table needs, %s%s"
              .formatted(
                  name,
                  Figures.plural(tidied.leftovers(), "file"),
                  Figures.bytes(tidied.bytes()),
                  rehearsed ? ", would be removed" : " removed"));
    } else {
      screen.line(
          "%s  %s %s into %,d, %s forgotten"
              .formatted(
                  name,
                  Figures.plural(tidied.small(), "small data file"),
                  rehearsed ? "would be rewritten" : "rewritten",
                  tidied.into(),
                  Figures.plural(tidied.states(), "former state")));
    }
  }

  /** Ends it; the exit code. */
  public int end() {
    if (shown == 0) {
      screen.line("nothing to tidy");
    }
    return failed > 0 ? 1 : 0;
  }
}
