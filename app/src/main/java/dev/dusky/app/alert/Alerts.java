package dev.dusky.app.alert;

import dev.dusky.app.config.AlertSettings;
import dev.dusky.app.config.AlertSettings.Command;
import dev.dusky.app.config.AlertSettings.Mail;
import dev.dusky.app.config.AlertSettings.Rule;
import dev.dusky.app.config.AlertSettings.Webhook;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.alert.Alert;
import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.AlertMessage.Event;
import dev.dusky.core.alert.Condition;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.merge.Merge;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Finds conditions, and sends messages about them. What cannot be sent is retried and stops
 * nothing.
 */
public final class Alerts {

  private static final Duration FIRST_WAIT = Duration.ofSeconds(10);
  private static final Duration LONGEST_WAIT = Duration.ofHours(1);

  /** The number of attempts, over some three days, after which a message is dropped. */
  private static final int MOST_ATTEMPTS = 80;

  private final Workspace workspace;
  private final Optional<AlertSettings> settings;
  private final Consumer<String> failures;

  /**
   * The alerts of that workspace.
   *
   * @param failures takes why messages could not be sent
   */
  public Alerts(Workspace workspace, Consumer<String> failures) {
    this.workspace = workspace;
    this.settings = workspace.configuration().alerts();
    this.failures = failures;
  }

  /** The alerts that are not over. */
  public List<Alert> open() {
    return workspace.warehouse().alerts().open();
  }

  /** Takes an alert on. */
  public void acknowledge(long id) {
    if (!workspace.warehouse().alerts().acknowledge(id, Workspace.person(), Instant.now())) {
      throw Failure.usage("There is no open alert " + id)
          .hint("{} lists those that are open", dev.dusky.core.failure.Invocation.of("alerts"));
    }
  }

  /**
   * Looks at feeds and merges, and enters what is so. Without configured alerts nothing is done.
   *
   * @param together whether messages wait for others; a process that ends soon cannot wait
   */
  public void look(Collection<Feed> feeds, Collection<Merge> merges, boolean together) {
    if (settings.isEmpty()) {
      return;
    }
    Instant now = Instant.now();
    Conditions conditions = new Conditions(workspace, settings.get(), now);
    List<String> names = new ArrayList<>();
    for (Feed feed : feeds) {
      conditions.look(feed);
      names.add(feed.name());
    }
    for (Merge merge : merges) {
      conditions.look(merge);
      names.add(merge.name());
    }
    Instant due = now.plus(together ? settings.get().group() : Duration.ZERO);
    workspace
        .warehouse()
        .alerts()
        .enter(
            EnumSet.allOf(AlertKind.class),
            names,
            conditions.found(),
            condition -> routes(settings.get(), condition, due),
            now);
  }

  /** Looks at what a command worked on and sends what is due; failures are only reported. */
  public void settle(Collection<Feed> feeds, Collection<Merge> merges) {
    try {
      look(feeds, merges, false);
      send();
    } catch (Failure failure) {
      failures.accept("Alerts could not be entered: " + failure.getMessage());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static Map<String, Instant> routes(
      AlertSettings settings, Condition condition, Instant due) {
    Instant when = settings.quiet().map(quiet -> quiet.after(due)).orElse(due);
    Map<String, Instant> routes = new LinkedHashMap<>();
    for (Rule rule : settings.rules()) {
      boolean about = rule.about().isEmpty() || rule.about().contains(condition.about());
      if (about && rule.kinds().contains(condition.kind())) {
        rule.to().forEach(target -> routes.put(target, when));
      }
    }
    return routes;
  }

  /** Sends what is due; returns how many messages were sent. */
  public int send() throws InterruptedException {
    int sent = 0;
    if (settings.isPresent()) {
      for (String target : settings.get().targets().keySet()) {
        sent += send(target);
      }
    }
    return sent;
  }

  /** Sends what is due to a target, until that is all or the target takes no more. */
  private int send(String target) throws InterruptedException {
    Sender sender = sender(target);
    int sent = 0;
    boolean takes = true;
    while (takes) {
      Optional<AlertEntries.Due> due =
          workspace.warehouse().alerts().due(target, Instant.now(), sender.most());
      if (due.isEmpty()) {
        return sent;
      }
      try (AlertEntries.Due messages = due.get()) {
        takes = send(target, sender, messages);
        sent += takes ? messages.messages().size() : 0;
      }
    }
    return sent;
  }

  private boolean send(String target, Sender sender, AlertEntries.Due due)
      throws InterruptedException {
    try {
      sender.send(due.messages());
      due.sent(Instant.now());
      return true;
    } catch (IOException e) {
      failed(target, due, e);
      return false;
    }
  }

  private void failed(String target, AlertEntries.Due due, IOException e) {
    int attempts = due.messages().stream().mapToInt(AlertMessage::attempts).max().orElse(0);
    Duration wait = attempts > 8 ? LONGEST_WAIT : FIRST_WAIT.multipliedBy(1L << attempts);
    boolean dropped = attempts >= MOST_ATTEMPTS;
    due.failed(
        String.valueOf(e.getMessage()),
        dropped ? Optional.empty() : Optional.of(Instant.now().plus(wait)));
    failures.accept(
        "Target %s did not take %d alerts: %s%s"
            .formatted(
                target,
                due.messages().size(),
                e.getMessage(),
                dropped ? "; they are dropped" : ""));
  }

  /** Sends a trial message to a target. */
  public void trial(String target) throws InterruptedException {
    AlertMessage message =
        new AlertMessage(
            0,
            0,
            Event.TRIAL,
            (int) (System.currentTimeMillis() / 1000),
            AlertKind.FILE_REFUSED,
            "trial",
            "A trial message; nothing is wrong",
            "dusky alerts",
            Instant.now(),
            0);
    try {
      sender(target).send(List.of(message));
    } catch (IOException e) {
      throw Failure.configuration("Target %s did not take a trial message".formatted(target))
          .because(String.valueOf(e.getMessage()))
          .hint("Correct alerts: to: %s: in the configuration".formatted(target))
          .from(e);
    }
  }

  /** The targets by name. */
  public Collection<String> targets() {
    return settings
        .orElseThrow(
            () ->
                Failure.configuration("No alerts are configured")
                    .hint("Add alerts: to: with a webhook, mail or a command"))
        .targets()
        .keySet();
  }

  private Sender sender(String name) {
    AlertSettings.Target target = settings.orElseThrow().targets().get(name);
    if (target == null) {
      throw Failure.usage("There is no target '%s'".formatted(name))
          .because("declared are " + String.join(", ", settings.get().targets().keySet()));
    }
    if (target instanceof Webhook webhook) {
      return new WebhookSender(webhook);
    }
    return target instanceof Mail mail
        ? new MailSender(mail)
        : new CommandSender((Command) target, workspace.configuration().base());
  }
}
