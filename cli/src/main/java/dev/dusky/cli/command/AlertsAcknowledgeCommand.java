package dev.dusky.cli.command;

import dev.dusky.app.alert.Alerts;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Takes alerts on. */
@Command(
    name = "acknowledge",
    description = "Notes that somebody has taken alerts on. Nothing is sent until they change.",
    footer = {"", "Examples:", "  dusky alerts acknowledge 12", "  dusky alerts acknowledge 12 13"})
final class AlertsAcknowledgeCommand extends DuskyCommand {

  @Parameters(paramLabel = "ID", arity = "1..*", description = "The numbers of the alerts.")
  List<Long> ids;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      Alerts alerts = new Alerts(workspace, screen::remark);
      for (long id : ids) {
        alerts.acknowledge(id);
        screen.line("alert " + id + " is acknowledged by " + Workspace.person());
      }
    }
    return 0;
  }
}
