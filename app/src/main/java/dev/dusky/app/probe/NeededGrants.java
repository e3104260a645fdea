package dev.dusky.app.probe;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Grants;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.WarehouseSettings;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The rights that a role needs for the feeds and merges of a configuration. */
public final class NeededGrants {

  /**
   * The rights for one purpose.
   *
   * @param purpose to look, to load or to merge
   * @param statements the statements that grant them
   */
  public record Purpose(String purpose, List<String> statements) {}

  private NeededGrants() {}

  /** The role that the configuration connects with to a PostgreSQL server, if it names one. */
  public static Optional<String> role(Workspace workspace) {
    WarehouseSettings settings = workspace.configuration().warehouse();
    DatabaseSettings database =
        settings instanceof LakeSettings lake ? lake.ledger() : (DatabaseSettings) settings;
    return database.user().filter(user -> database.url().startsWith("jdbc:postgresql:"));
  }

  /** The rights of a role, by purpose. */
  public static List<Purpose> of(Workspace workspace, String role) {
    Configuration configuration = workspace.configuration();
    Grants grants = workspace.bareWarehouse().grants();
    String database =
        configuration.warehouse().url().replaceFirst("[?].*", "").replaceFirst(".*/", "");
    Set<TableName> landing = new LinkedHashSet<>();
    configuration.feeds().values().forEach(feed -> landing.add(feed.into()));
    Set<TableName> sources = new LinkedHashSet<>();
    Set<TableName> targets = new LinkedHashSet<>();
    for (Merge merge : configuration.merges().values()) {
      if (merge.source() instanceof MergeSource.Landing from) {
        sources.add(from.table());
      }
      targets.add(merge.into());
      merge.lookups().forEach(lookup -> targets.add(lookup.table()));
    }
    Set<TableName> all = new LinkedHashSet<>(landing);
    all.addAll(sources);
    all.addAll(targets);
    List<Purpose> purposes = new ArrayList<>();
    purposes.add(new Purpose("to look", grants.looking(role, all)));
    if (!landing.isEmpty()) {
      purposes.add(new Purpose("to load", grants.loading(role, database, landing)));
    }
    if (configuration.feeds().values().stream().anyMatch(f -> f.policies().replaces())) {
      purposes.add(new Purpose("to replace", grants.replacing(role)));
    }
    if (!targets.isEmpty()) {
      purposes.add(new Purpose("to merge", grants.merging(role, database, sources, targets)));
    }
    return purposes;
  }
}
