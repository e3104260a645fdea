package dev.dusky.cli.command;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.promote.PromoteField;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.Promoted;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Turns a captured field into a column. */
@Command(
    name = "promote",
    description = "Turns a captured field of the leftovers into a column.",
    footer = {
      "",
      "Examples:",
      "  dusky promote results remark                 type and name inferred from its values",
      "  dusky promote results unit.code --column unit --type \"varchar(8)\"",
      "",
      "All captured values must be of the type, or nothing is changed. Each is moved into its row's",
      "column, in one transaction; later files fill the column directly.",
      "Also moves values that did not fit a column once its type holds them."
    })
final class PromoteCommand extends DuskyCommand {

  @Parameters(index = "0", paramLabel = "FEED", description = "The feed.")
  String feed;

  @Parameters(
      index = "1",
      paramLabel = "FIELD",
      description = "The field, named as in the leftovers.")
  String field;

  @Option(
      names = "--column",
      paramLabel = "NAME",
      description = "The new column's name; default: inferred from the field's.")
  String column;

  @Option(
      names = "--type",
      paramLabel = "TYPE",
      description = "The new column's type; default: inferred from the values.")
  String type;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      show(
          screen,
          new PromoteField(workspace)
              .run(feed, field, Optional.ofNullable(column), Optional.ofNullable(type)));
    }
    return 0;
  }

  private void show(Screen screen, PromoteField.Outcome outcome) {
    Feed declared = outcome.feed();
    Promoted done = outcome.promoted();
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", declared.name());
    fields.put("field", field);
    fields.put("column", done.column());
    fields.put("type", done.type().toString());
    fields.put("rows", done.rows());
    screen.object(fields);
    if (done.rows() == 0) {
      screen.line("no row of " + declared.into() + " has " + field + " in its leftovers");
      return;
    }
    screen.line(
        "%s of %s: %s moved from the leftovers into column %s"
            .formatted(
                field, declared.name(), Figures.plural(done.rows(), "value"), done.column()));
    if (declared.column(done.column()).isEmpty()) {
      screen.line(
          screen
              .style()
              .faint("write it into the feed's columns: " + done.column() + ": " + done.type()));
    }
  }
}
