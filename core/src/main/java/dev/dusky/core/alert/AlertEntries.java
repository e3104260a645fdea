package dev.dusky.core.alert;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** The port to the ledger's alerts. */
public interface AlertEntries {

  /** The alerts that are not over, oldest first. */
  List<Alert> open();

  /**
   * Enters what is so now. New conditions open alerts, others change or continue them, and alerts
   * of these kinds about these names whose condition is missing are over. Of all processes that
   * find the same at the same time one enters it.
   *
   * @param kinds the kinds that were looked at
   * @param about the feeds and merges that were looked at
   * @param conditions what was found
   * @param routes to which targets an alert's messages go, and when they are due
   * @return how many messages were entered
   */
  int enter(
      Collection<AlertKind> kinds,
      Collection<String> about,
      List<Condition> conditions,
      Function<Condition, Map<String, Instant>> routes,
      Instant now);

  /** Notes that somebody takes an alert on; false if it is over, or there is none. */
  boolean acknowledge(long id, String by, Instant now);

  /** Notes what a comparison of the books of a feed or merge came to. */
  void proved(String name, boolean agrees, String words, Instant now);

  /** What the last comparison found wrong, if it did. */
  Optional<String> disagrees(String name);

  /** Takes the messages that are due to a target; empty if there are none that no other has. */
  Optional<Due> due(String target, Instant now, int most);

  /** Messages that no other process can take until they are settled or this is closed. */
  interface Due extends AutoCloseable {

    /** The messages, oldest first. */
    List<AlertMessage> messages();

    /** Notes that they were sent. */
    void sent(Instant now);

    /** Notes that they could not be sent, and when it is tried again; never, if that is empty. */
    void failed(String why, Optional<Instant> again);

    /** Gives back what was not settled. */
    @Override
    void close();
  }
}
