package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.landed.JdbcPromotions.Promoted;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Turns a captured field into a column. */
@Command(
    name = "promote",
    description = "Turns a field that drift captured in the leftovers into a real column.",
    footer = {
      "",
      "Examples:",
      "  dusky promote results remark                 type and name worked out from its values",
      "  dusky promote results unit.code --column unit --type \"varchar(8)\"",
      "",
      "All captured values must be of the type, or nothing is changed. Each goes into its row's",
      "column and out of the leftovers, in one transaction; later files fill the column directly.",
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
      description = "The new column's name; worked out from the field's if not given.")
  String column;

  @Option(
      names = "--type",
      paramLabel = "TYPE",
      description = "The new column's type; worked out from the values if not given.")
  String type;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      Feed declared = workspace.configuration().feed(feed);
      if (!declared.policies().drift().map(DriftPolicy::captures).orElse(false)) {
        throw Failure.usage("Feed " + feed + " has no leftovers")
            .because("it does not declare drift: capture")
            .next("Fields are captured from then on when it does");
      }
      if (column != null && !column.matches("[a-z_][a-z0-9_]{0,62}")) {
        throw Failure.usage("--column cannot be '" + column + "'")
            .next("Use small letters, digits and underscores");
      }
      Optional<SqlType> wanted =
          Optional.ofNullable(type)
              .map(
                  text ->
                      SqlType.parse(text)
                          .orElseThrow(
                              () ->
                                  Failure.usage("--type cannot be '" + text + "'")
                                      .next("Write a type such as bigint, decimal(9,1) or text")));
      JdbcWarehouse warehouse = workspace.warehouse();
      Feed grown = declared.grown(warehouse.ledger().grown(declared.name()));
      Promoted done =
          warehouse
              .promotions()
              .promote(
                  workspace.start(declared), grown, field, Optional.ofNullable(column), wanted);
      show(screen, declared, done);
      return 0;
    }
  }

  private void show(Screen screen, Feed declared, Promoted done) {
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
