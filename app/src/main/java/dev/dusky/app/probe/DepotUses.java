package dev.dusky.app.probe;

import dev.dusky.app.config.Configuration;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.DepotFolder;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.probe.DepotUse;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.depots.address.DepotAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What the feeds of a configuration, and its tables, do with a depot. */
final class DepotUses {

  private DepotUses() {}

  static DepotUse of(Configuration configuration, DepotAddress depot) {
    List<DepotUse.Reading> feeds = new ArrayList<>();
    List<DepotUse.Writing> folders = new ArrayList<>();
    List<DepotUse.Moving> archives = new ArrayList<>();
    List<DepotUse.Removing> removals = new ArrayList<>();
    for (Feed feed : configuration.feeds().values()) {
      Optional<DepotFolder> rejects =
          feed.policies().rejectsTo().filter(to -> to.depot().equals(depot.name()));
      rejects.ifPresent(
          to -> folders.add(new DepotUse.Writing("rejects " + feed.name(), to.folder())));
      if (!feed.depot().equals(depot.name())) {
        continue;
      }
      feeds.add(new DepotUse.Reading(feed.name(), feed.files()));
      String from = folder(feed);
      Afterwards afterwards = feed.policies().arrivals().afterwards();
      if (afterwards instanceof Afterwards.Archive archive) {
        archives.add(new DepotUse.Moving(feed.name(), from, archive.folder()));
      } else if (afterwards instanceof Afterwards.Remove) {
        removals.add(new DepotUse.Removing(feed.name(), from));
      }
    }
    if (configuration.warehouse() instanceof LakeSettings lake && depot.holds(lake.place())) {
      String below = lake.place().substring(depot.at().replaceFirst("/+$", "").length());
      folders.add(
          new DepotUse.Writing(
              "tables", below.isEmpty() ? "" : below.replaceAll("^/+|/+$", "") + "/"));
    }
    return new DepotUse(feeds, folders, archives, removals);
  }

  /** The literal folder that a feed's files are below. */
  private static String folder(Feed feed) {
    String prefix = feed.files().prefix();
    return prefix.substring(0, prefix.lastIndexOf('/') + 1);
  }
}
