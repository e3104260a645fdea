package dev.dusky.app.config;

import dev.dusky.core.secret.Secret;
import dev.dusky.depots.queue.QueueAddress;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;

/**
 * How feeds are looked after.
 *
 * @param interval how often each depot is listed
 * @param atOnce the maximum number of feeds and merges that run concurrently
 * @param listen where notifications, metrics and health are served, if anywhere
 * @param secret what a notification must carry
 * @param notices the queue that notices are taken from, if there is one
 * @param merges when merges run by themselves, by name
 */
public record WatchSettings(
    Duration interval,
    int atOnce,
    Optional<InetSocketAddress> listen,
    Optional<Secret> secret,
    Optional<QueueAddress> notices,
    Map<String, MergeTiming> merges) {

  /** The default for {@link #interval}. */
  static final Duration INTERVAL = Duration.ofSeconds(30);

  /**
   * When a merge runs automatically.
   *
   * @param eachLoad after each load that posts rows for it
   * @param every how often besides
   */
  public record MergeTiming(boolean eachLoad, Optional<Duration> every) {}

  /** The same with another interval. */
  public WatchSettings withInterval(Duration other) {
    return new WatchSettings(other, atOnce, listen, secret, notices, merges);
  }

  static WatchSettings read(
      Section top, Secrets secrets, DepotReader depots, Map<String, MergeTiming> merges) {
    Optional<Node> node = top.node("watch");
    if (node.isEmpty()) {
      return new WatchSettings(
          INTERVAL, 2, Optional.empty(), Optional.empty(), Optional.empty(), merges);
    }
    Section section = top.section("watch", node.get());
    Duration interval = DurationText.read(section, "interval", INTERVAL, Duration.ofDays(1));
    if (interval.isZero()) {
      section.problem("interval", "interval must be positive");
    }
    Optional<InetSocketAddress> listen = section.text("listen").flatMap(t -> address(section, t));
    Optional<Secret> secret = secrets.get(section, "secret");
    if (section.has("listen") && !section.has("secret")) {
      section.problem(
          "listen", "listen needs secret: env:NAME, which senders of notifications must know");
    }
    int atOnce = section.number("at-once", 1, 64, 2);
    Optional<QueueAddress> notices =
        section.node("notices").map(at -> depots.queue(section.section("notices", at)));
    section.done();
    return new WatchSettings(interval, atOnce, listen, secret, notices, merges);
  }

  private static Optional<InetSocketAddress> address(Section section, String text) {
    int colon = text.lastIndexOf(':');
    String port = text.substring(colon + 1);
    if (colon < 1 || !port.matches("\\d{1,5}") || Integer.parseInt(port) > 65_535) {
      section.problem(
          "listen", "listen cannot be '%s'; write host:port, 127.0.0.1:9440".formatted(text));
      return Optional.empty();
    }
    return Optional.of(
        InetSocketAddress.createUnresolved(text.substring(0, colon), Integer.parseInt(port)));
  }
}
