package dev.dusky.app.promote;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.Promoted;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.Warehouse;
import java.util.Optional;

/** Turns a captured field into a column. */
public final class PromoteField {

  /**
   * The result.
   *
   * @param feed the feed as it is declared
   * @param promoted the column
   */
  public record Outcome(Feed feed, Promoted promoted) {}

  private final Workspace workspace;

  /** Promotions in that workspace. */
  public PromoteField(Workspace workspace) {
    this.workspace = workspace;
  }

  /**
   * Promotes a field.
   *
   * @param column the column's name; derived from the field if empty
   * @param type its type; derived from the values if empty
   */
  public Outcome run(String name, String field, Optional<String> column, Optional<String> type) {
    Feed feed = workspace.configuration().feed(name);
    if (!feed.policies().drift().map(DriftPolicy::captures).orElse(false)) {
      throw Failure.usage("Feed " + name + " has no leftovers")
          .because("it does not declare drift: capture")
          .hint("Fields are captured once it does");
    }
    column
        .filter(c -> !c.matches("[a-z_][a-z0-9_]{0,62}"))
        .ifPresent(
            c -> {
              throw Failure.usage("--column cannot be '" + c + "'")
                  .hint("Use small letters, digits and underscores");
            });
    Optional<SqlType> wanted = type.map(PromoteField::type);
    Warehouse warehouse = workspace.warehouse();
    Feed grown = feed.grown(warehouse.ledger().grown(feed.name()));
    return new Outcome(
        feed, warehouse.promotions().promote(workspace.start(feed), grown, field, column, wanted));
  }

  private static SqlType type(String text) {
    return SqlType.parse(text)
        .orElseThrow(
            () ->
                Failure.usage("--type cannot be '" + text + "'")
                    .hint("Write a type such as bigint, decimal(9,1) or text"));
  }
}
