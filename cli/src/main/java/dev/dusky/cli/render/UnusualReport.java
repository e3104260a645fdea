package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.app.workspace.UnusualFiles.Unusual;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows posted files whose volume is unusual. */
public final class UnusualReport {

  private final Screen screen;

  /** A report on that screen. */
  public UnusualReport(Screen screen) {
    this.screen = screen;
  }

  /**
   * Shows the files, a line each.
   *
   * @param days the days that were looked at
   */
  public void show(List<Unusual> files, long days) {
    TableText table =
        new TableText(
            screen.style(),
            "=feed",
            "=file",
            "=posted",
            ">rows",
            ">bytes",
            ">rejected",
            "=unusual");
    for (Unusual file : files) {
      screen.object(json(file));
      table.row(
          file.feed(),
          file.volume().path(),
          Moments.minute(file.volume().at()),
          Figures.count(file.volume().rows()),
          Figures.bytes(file.volume().bytes()),
          Figures.count(file.volume().rejected()),
          file.words());
    }
    if (files.isEmpty()) {
      screen.line(
          "No file of the last %d days is unusual. Feeds with expect: { volume: usual } are compared."
              .formatted(days));
    } else {
      screen.table(table);
    }
  }

  private static Map<String, Object> json(Unusual file) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", file.feed());
    fields.put("path", file.volume().path());
    fields.put("posted", file.volume().at().toString());
    fields.put("rows", file.volume().rows());
    fields.put("bytes", file.volume().bytes());
    fields.put("rejected", file.volume().rejected());
    fields.put("unusual", file.words());
    return fields;
  }
}
