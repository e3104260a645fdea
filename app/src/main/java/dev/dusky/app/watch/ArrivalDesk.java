package dev.dusky.app.watch;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.watch.Notifications.Arrival;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.watch.Inbox;
import dev.dusky.depots.address.DepotAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Pattern;

/** Finds the feeds that an arrival concerns and wakes them. */
final class ArrivalDesk {

  private static final String STORE = "(s3|gs|azure)://";
  private static final int LONGEST_PATH = 1024;

  private final Configuration configuration;
  private final List<Feed> feeds;
  private final Inbox inbox;
  private final Consumer<String> wake;

  ArrivalDesk(Configuration configuration, List<Feed> feeds, Inbox inbox, Consumer<String> wake) {
    this.configuration = configuration;
    this.feeds = feeds;
    this.inbox = inbox;
    this.wake = wake;
  }

  /**
   * A file that a feed was woken for.
   *
   * @param path its path in the feed's depot
   */
  record Taken(String feed, String path) {}

  /** Takes an arrival in, for each feed that is watched here and that it concerns. */
  List<Taken> take(Arrival arrival) {
    List<Taken> taken = new ArrayList<>();
    for (Feed feed : feeds) {
      Optional<String> path = path(configuration.depot(feed.depot()), arrival);
      if (path.isPresent() && feed.files().matches(path.get())) {
        inbox.add(feed.name(), path.get());
        wake.accept(feed.name());
        taken.add(new Taken(feed.name(), path.get()));
      }
    }
    return taken;
  }

  /** The object's path in a depot, if it lies in there and is a plain one. */
  static Optional<String> path(DepotAddress depot, Arrival arrival) {
    String prefix;
    if (arrival.place().equals(depot.name())) {
      prefix = "";
    } else if (depot.at().matches(STORE + Pattern.quote(arrival.place()) + "(/.*)?")) {
      String folder =
          depot.at().substring(depot.at().indexOf("://") + 3 + arrival.place().length());
      prefix = folder.replaceAll("^/+|/+$", "");
      prefix = prefix.isEmpty() ? "" : prefix + "/";
    } else {
      return Optional.empty();
    }
    String key = arrival.key();
    boolean plain =
        key.startsWith(prefix)
            && key.length() <= LONGEST_PATH
            && key.chars().noneMatch(c -> c < 0x20)
            && !List.of(key.split("/")).contains("..");
    return plain ? Optional.of(key.substring(prefix.length())) : Optional.empty();
  }
}
