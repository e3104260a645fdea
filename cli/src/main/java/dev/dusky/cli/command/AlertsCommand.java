package dev.dusky.cli.command;

import dev.dusky.app.alert.Alerts;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.AlertReport;
import dev.dusky.cli.render.Screen;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Shows open alerts, and tries their targets. */
@Command(
    name = "alerts",
    description = "Shows open alerts; looks for new ones and sends them; tries targets.",
    subcommands = AlertsAcknowledgeCommand.class,
    footer = {
      "",
      "Examples:",
      "  dusky alerts                         those that are not over",
      "  dusky alerts --look                  look now and send what is due; for cron",
      "  dusky alerts --try                   send a trial message to each target",
      "  dusky alerts acknowledge 12          take alert 12 on",
      "",
      "Targets are declared under alerts in the configuration. dusky watch looks and",
      "sends by itself; load and merge do when they end."
    })
final class AlertsCommand extends DuskyCommand {

  @Option(names = "--look", description = "Look at all feeds and merges, and send what is due.")
  boolean look;

  @Option(
      names = "--try",
      arity = "0..1",
      fallbackValue = "",
      paramLabel = "TARGET",
      description = "Send a trial message to this target, or to all.")
  String trial;

  @Override
  int run(Screen screen) throws InterruptedException {
    try (Workspace workspace = new Workspace(configFile())) {
      Alerts alerts = new Alerts(workspace, screen::remark);
      if (trial != null) {
        for (String target : trial.isEmpty() ? alerts.targets() : java.util.List.of(trial)) {
          alerts.trial(target);
          screen.line(target + " took a trial message");
        }
        return 0;
      }
      if (look) {
        alerts.targets();
        alerts.look(
            workspace.configuration().feeds().values(),
            workspace.configuration().merges().values(),
            false);
        screen.line(Figures.plural(alerts.send(), "message") + " sent");
      }
      new AlertReport(screen).show(alerts.open());
    }
    return 0;
  }
}
