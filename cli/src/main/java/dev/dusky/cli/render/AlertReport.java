package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.core.alert.Alert;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows alerts that are not over. */
public final class AlertReport {

  private final Screen screen;

  /** A report on that screen. */
  public AlertReport(Screen screen) {
    this.screen = screen;
  }

  /** Shows the alerts, a line each, and below the commands that show more. */
  public void show(List<Alert> alerts) {
    TableText table =
        new TableText(
            screen.style(),
            ">alert",
            "=since",
            "=kind",
            "=about",
            "=what",
            "=command",
            ">changes",
            "=acknowledged");
    for (Alert alert : alerts) {
      screen.object(json(alert));
      table.row(
          String.valueOf(alert.id()),
          Moments.minute(alert.opened()),
          alert.kind().label(),
          alert.about(),
          alert.words(),
          alert.command(),
          Figures.count(alert.changes()),
          alert.acknowledged().orElse("-"));
    }
    if (alerts.isEmpty()) {
      screen.line("No alert is open.");
    } else {
      screen.table(table);
    }
  }

  private static Map<String, Object> json(Alert alert) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("alert", alert.id());
    fields.put("kind", alert.kind().label());
    fields.put("about", alert.about());
    fields.put("words", alert.words());
    fields.put("command", alert.command());
    fields.put("changes", alert.changes());
    fields.put("opened", alert.opened().toString());
    fields.put("changed", alert.changed().toString());
    fields.put("acknowledged", alert.acknowledged().orElse(null));
    return fields;
  }
}
