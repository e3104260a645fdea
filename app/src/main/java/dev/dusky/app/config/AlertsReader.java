package dev.dusky.app.config;

import dev.dusky.app.config.AlertSettings.Command;
import dev.dusky.app.config.AlertSettings.Mail;
import dev.dusky.app.config.AlertSettings.Quiet;
import dev.dusky.app.config.AlertSettings.Rule;
import dev.dusky.app.config.AlertSettings.Target;
import dev.dusky.app.config.AlertSettings.Webhook;
import dev.dusky.core.alert.AlertKind;
import java.math.BigDecimal;
import java.net.URI;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Reads which alerts are sent to whom. */
final class AlertsReader {

  private static final Duration REJECT_AGE = Duration.ofDays(7);
  private static final Duration GROUP = Duration.ofMinutes(1);
  private static final int MOST_REJECTS = 1_000_000_000;

  private final ConfigProblems problems;
  private final Secrets secrets;
  private final Set<String> names;

  /**
   * A reader.
   *
   * @param names the feeds and merges
   */
  AlertsReader(ConfigProblems problems, Secrets secrets, Set<String> names) {
    this.problems = problems;
    this.secrets = secrets;
    this.names = names;
  }

  Optional<AlertSettings> read(Section top) {
    return top.node("alerts").map(node -> settings(top.section("alerts", node)));
  }

  private AlertSettings settings(Section section) {
    Map<String, Target> targets = new LinkedHashMap<>();
    section
        .children("to")
        .forEach(
            (name, node) ->
                target(new Section("target " + name, node, problems))
                    .ifPresent(target -> targets.put(name, target)));
    if (targets.isEmpty()) {
      problems.add(section.line(), "alerts need a target under to, such as a webhook");
    }
    AlertSettings settings =
        new AlertSettings(
            targets,
            rules(section, targets.keySet()),
            section.number("rejects", 0, MOST_REJECTS, 0),
            section.text("reject-share").flatMap(text -> share(section, text)),
            DurationText.read(section, "reject-age", REJECT_AGE, Duration.ofDays(365)),
            section.node("quiet").map(node -> quiet(section.section("quiet", node))),
            DurationText.read(section, "group", GROUP, Duration.ofDays(1)));
    section.done();
    return settings;
  }

  private Optional<Target> target(Section section) {
    Optional<Target> target = Optional.empty();
    long kinds = List.of("webhook", "mail", "command").stream().filter(section::has).count();
    if (kinds != 1) {
      problems.add(section.line(), "a target is a webhook, mail or a command");
    }
    if (section.has("webhook")) {
      target =
          uri(section, "webhook", Set.of("http", "https"))
              .map(url -> new Webhook(url, secrets.get(section, "secret")));
    } else if (section.has("mail")) {
      List<String> to = section.texts("mail").orElse(List.of());
      String from = section.required("from");
      Optional<URI> server = uri(section, "server", Set.of("smtp", "smtps"));
      Optional<String> user = section.text("user");
      var password = secrets.get(section, "password");
      target = server.map(s -> new Mail(to, from, s, user, password));
    } else if (section.has("command")) {
      target = section.texts("command").map(Command::new);
    }
    section.done();
    return target;
  }

  private static Optional<URI> uri(Section section, String key, Set<String> schemes) {
    String text = section.required(key);
    try {
      URI uri = URI.create(text);
      if (uri.getScheme() != null && schemes.contains(uri.getScheme()) && uri.getHost() != null) {
        if (uri.getUserInfo() != null) {
          section.problem(key, "user and password do not belong in the address");
        }
        return Optional.of(uri);
      }
    } catch (IllegalArgumentException e) {
      // said below, like any other text that is not an address
    }
    if (!text.isEmpty()) {
      section.problem(
          key,
          "%s cannot be '%s'; write an address such as %s://host/"
              .formatted(key, text, schemes.stream().sorted().findFirst().orElseThrow()));
    }
    return Optional.empty();
  }

  private List<Rule> rules(Section section, Set<String> targets) {
    Optional<Node> node = section.node("when");
    if (node.isEmpty()) {
      return List.of(new Rule(EnumSet.allOf(AlertKind.class), Set.of(), List.copyOf(targets)));
    }
    List<Rule> rules = new ArrayList<>();
    section
        .children("when")
        .forEach((name, n) -> rules.add(rule(new Section("rule " + name, n, problems), targets)));
    return rules;
  }

  private Rule rule(Section section, Set<String> targets) {
    Set<AlertKind> kinds = EnumSet.noneOf(AlertKind.class);
    for (String word : section.texts("is").orElse(List.of())) {
      Optional<AlertKind> kind = AlertKind.of(word);
      kind.ifPresent(kinds::add);
      if (kind.isEmpty()) {
        String all =
            Arrays.stream(AlertKind.values())
                .map(AlertKind::label)
                .collect(Collectors.joining(", "));
        section.problem("is", "there is no alert '%s'; there are %s".formatted(word, all));
      }
    }
    List<String> about = section.texts("about").orElse(List.of());
    known(section, "about", about, names, "feed or merge");
    List<String> to = section.texts("to").orElse(List.copyOf(targets));
    known(section, "to", to, targets, "target");
    section.done();
    return new Rule(
        kinds.isEmpty() ? EnumSet.allOf(AlertKind.class) : kinds, Set.copyOf(about), to);
  }

  private static void known(
      Section section, String key, List<String> given, Set<String> known, String what) {
    for (String name : given) {
      if (!known.contains(name)) {
        section.problem(
            key,
            "there is no %s '%s'%s"
                .formatted(
                    what,
                    name,
                    NearestName.of(name, known)
                        .map(near -> "; the nearest is '" + near + "'")
                        .orElse("")));
      }
    }
  }

  private static Optional<BigDecimal> share(Section section, String text) {
    if (text.matches("\\d{1,2}(\\.\\d{1,6})? ?%")) {
      return Optional.of(new BigDecimal(text.replace("%", "").strip()));
    }
    section.problem(
        "reject-share", "reject-share cannot be '%s'; write a share such as 0.5%%".formatted(text));
    return Optional.empty();
  }

  private static Quiet quiet(Section section) {
    Quiet quiet = new Quiet(time(section, "from"), time(section, "until"), ZoneText.read(section));
    section.done();
    return quiet;
  }

  private static LocalTime time(Section section, String key) {
    String text = section.required(key);
    try {
      return text.isEmpty() ? LocalTime.MIDNIGHT : LocalTime.parse(text);
    } catch (DateTimeException e) {
      section.problem(
          key, "%s cannot be '%s'; write a time such as \"22:00\"".formatted(key, text));
      return LocalTime.MIDNIGHT;
    }
  }
}
