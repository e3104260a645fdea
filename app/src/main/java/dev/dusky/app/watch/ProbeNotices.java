package dev.dusky.app.watch;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.watch.Notifications.Arrival;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.notice.Notice;
import dev.dusky.core.notice.NoticeQueue;
import dev.dusky.core.probe.DepotProbe;
import dev.dusky.depots.Depots;
import dev.dusky.depots.queue.QueueAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * Tries whether the notices of a feed's files arrive: stages one small file in the feed's folder
 * and waits for its notice in the queue. Other notices are given back.
 */
public final class ProbeNotices {

  private static final Duration HIDDEN = Duration.ofSeconds(30);
  private static final Duration POLL = Duration.ofSeconds(5);

  /** What came of a trial. */
  public record Outcome(String feed, boolean came, String words) {}

  private final Workspace workspace;
  private final Duration most;

  /**
   * A trial.
   *
   * @param most how long a notice may take
   */
  public ProbeNotices(Workspace workspace, Duration most) {
    this.workspace = workspace;
    this.most = most;
  }

  /** Tries the notices of a feed. */
  public Outcome run(Feed feed) {
    Configuration configuration = workspace.configuration();
    QueueAddress address =
        configuration
            .watch()
            .notices()
            .orElseThrow(
                () ->
                    Failure.usage("No queue of notices is configured")
                        .because("watch: has no notices:")
                        .hint(
                            "Add notices: { queue: sqs://… } there. Notices of a webhook are"
                                + " counted by a running watch: dusky_notifications_total at"
                                + " /metrics"));
    String prefix = feed.files().prefix();
    String folder = prefix.substring(0, prefix.lastIndexOf('/') + 1);
    Depot depot = workspace.depot(feed.depot());
    try (NoticeQueue queue = Depots.open(address)) {
      queue.receive(Duration.ZERO, Duration.ZERO); // is it there, and are we let in?
      long start = System.nanoTime();
      String path = DepotProbe.put(depot, folder);
      try {
        return await(feed, path, queue, start);
      } finally {
        depot.remove(path);
      }
    }
  }

  private Outcome await(Feed feed, String path, NoticeQueue queue, long start) {
    int others = 0;
    String odd = "";
    while (System.nanoTime() - start < most.toNanos()) {
      for (Notice notice : queue.receive(POLL, HIDDEN)) {
        List<Arrival> arrivals = arrivals(notice);
        boolean ours = arrivals.stream().anyMatch(arrival -> arrival.key().endsWith(path));
        if (!ours) {
          others++;
          queue.hide(notice, Duration.ZERO);
          continue;
        }
        queue.delete(notice);
        boolean known =
            arrivals.stream()
                .anyMatch(
                    arrival ->
                        ArrivalDesk.path(workspace.configuration().depot(feed.depot()), arrival)
                            .filter(path::equals)
                            .isPresent());
        if (known) {
          return new Outcome(
              feed.name(),
              true,
              "the notice of %s came after %.1f s"
                  .formatted(path, (System.nanoTime() - start) / 1e9));
        }
        odd = arrivals.get(0).place();
      }
    }
    return new Outcome(feed.name(), false, lost(path, queue, others, odd));
  }

  private static List<Arrival> arrivals(Notice notice) {
    try {
      return Notifications.read(
          notice.body().getBytes(StandardCharsets.UTF_8), Optional.empty(), Optional.empty());
    } catch (IllegalArgumentException e) {
      return List.of(); // a message that is not understood is not the one that is waited for
    }
  }

  private String lost(String path, NoticeQueue queue, int others, String odd) {
    if (!odd.isEmpty()) {
      return "a notice came, but names '%s', which is not where the depot is: check at: of the depot"
          .formatted(odd);
    }
    return "%s was staged, and no notice of it came to %s within %d s; %s"
        .formatted(
            path,
            queue.place(),
            most.toSeconds(),
            others == 0
                ? "none came at all: check that the bucket sends events of new objects to the queue,"
                    + " and that the queue's policy lets the bucket send"
                : others + " others came: check prefix and suffix in the bucket's event settings");
  }
}
