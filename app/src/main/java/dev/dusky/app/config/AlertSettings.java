package dev.dusky.app.config;

import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.secret.Secret;
import java.math.BigDecimal;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Which alerts are sent to whom.
 *
 * @param targets where messages go, by name
 * @param rules which alerts go to which targets
 * @param rejects more open rejects of a feed than this are an alert
 * @param rejectShare a greater share of rejected rows within a day is one too, in percent
 * @param rejectAge an open reject that is older is one
 * @param quiet when no message is sent
 * @param group how long messages are collected before they are sent together
 */
public record AlertSettings(
    Map<String, Target> targets,
    List<Rule> rules,
    long rejects,
    Optional<BigDecimal> rejectShare,
    Duration rejectAge,
    Optional<Quiet> quiet,
    Duration group) {

  /** Where messages go. */
  public sealed interface Target {}

  /**
   * A server that takes CloudEvents.
   *
   * @param secret what the events are signed with
   */
  public record Webhook(URI url, Optional<Secret> secret) implements Target {}

  /**
   * Mail.
   *
   * @param server {@code smtp://host:port} with STARTTLS where the server offers it, or {@code
   *     smtps://host:port}
   */
  public record Mail(
      List<String> to, String from, URI server, Optional<String> user, Optional<Secret> password)
      implements Target {}

  /** A program that reads the messages from its standard input. */
  public record Command(List<String> words) implements Target {
    public Command {
      words = List.copyOf(words);
    }
  }

  /**
   * Which alerts go where.
   *
   * @param kinds these kinds
   * @param about these feeds and merges; all if there are none
   * @param to these targets
   */
  public record Rule(Set<AlertKind> kinds, Set<String> about, List<String> to) {}

  /**
   * Hours without messages, which may go past midnight.
   *
   * @param from when they begin
   * @param until when they end
   */
  public record Quiet(LocalTime from, LocalTime until, ZoneId zone) {

    /** The first moment from then on at which messages may be sent. */
    public Instant after(Instant moment) {
      ZonedDateTime local = moment.atZone(zone);
      LocalTime time = local.toLocalTime();
      boolean overnight = from.isAfter(until);
      boolean quiet =
          overnight
              ? !time.isBefore(from) || time.isBefore(until)
              : !time.isBefore(from) && time.isBefore(until);
      if (!quiet) {
        return moment;
      }
      boolean tomorrow = overnight && !time.isBefore(from);
      return local.toLocalDate().plusDays(tomorrow ? 1 : 0).atTime(until).atZone(zone).toInstant();
    }
  }
}
