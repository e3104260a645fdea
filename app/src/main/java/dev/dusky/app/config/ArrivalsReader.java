package dev.dusky.app.config;

import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.feed.Since;
import dev.dusky.core.feed.TwinPolicy;
import java.time.Duration;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads what a feed does about files as they come and go. */
final class ArrivalsReader {

  private static final Pattern DAYS = Pattern.compile("(\\d{1,5}) days?");

  private final Section feed;

  ArrivalsReader(Section feed) {
    this.feed = feed;
  }

  Arrivals read() {
    return new Arrivals(
        since(),
        ready(),
        feed.choice(
            "twins", Section.labels(TwinPolicy.values(), TwinPolicy::label), TwinPolicy.SKIP),
        feed.choice(
            "revised",
            Section.labels(RevisedPolicy.values(), RevisedPolicy::label),
            RevisedPolicy.HALT),
        afterwards());
  }

  private Optional<FilePattern> files() {
    try {
      return feed.text("files").map(FilePattern::of);
    } catch (IllegalArgumentException e) {
      return Optional.empty(); // noted where the pattern is read
    }
  }

  /** {@code since: { day: 2026-03-01 }} or {@code since: { day: 30 days }}, by captured date. */
  private Optional<Since> since() {
    Optional<Node> node = feed.node("since");
    if (node.isEmpty()) {
      return Optional.empty();
    }
    Section section = feed.section("since", node.get());
    List<String> dates = files().map(FilePattern::dateNames).orElse(List.of());
    Optional<Since> since = Optional.empty();
    for (String name : dates) {
      Optional<String> text = section.text(name);
      if (text.isPresent() && since.isPresent()) {
        section.problem(name, "since can use only one captured date");
      }
      if (text.isPresent()) {
        since = since(section, name, text.get());
      }
    }
    if (dates.isEmpty()) {
      feed.problem(
          "since", "since needs a date that the files pattern captures, such as {day:date}");
      section.all();
    } else if (dates.stream().noneMatch(section::has)) {
      feed.problem("since", "since needs one of %s with a day".formatted(String.join(", ", dates)));
    }
    section.done();
    return since;
  }

  private static Optional<Since> since(Section section, String name, String text) {
    Matcher days = DAYS.matcher(text);
    if (days.matches()) {
      return Optional.of(new Since(name, Optional.empty(), Integer.parseInt(days.group(1))));
    }
    try {
      return Optional.of(new Since(name, Optional.of(LocalDate.parse(text)), 0));
    } catch (DateTimeParseException e) {
      section.problem(
          name, "%s cannot be '%s'; it is a day (2026-03-01) or 30 days".formatted(name, text));
      return Optional.empty();
    }
  }

  private Readiness ready() {
    Optional<Node> node = feed.node("ready");
    if (node.isEmpty()) {
      return Readiness.AT_ONCE;
    }
    Section section = feed.section("ready", node.get());
    Duration quiet = DurationText.read(section, "quiet", Duration.ZERO, Duration.ofDays(7));
    Optional<String> marker = section.text("marker");
    section.done();
    if (marker.isPresent()
        && !marker.get().contains("{path}")
        && !marker.get().contains("{folder}")) {
      section.problem(
          "marker", "marker must be a path with {path} or {folder}: {path}.done, {folder}_done");
    }
    return new Readiness(quiet, marker);
  }

  /** {@code leave}, {@code remove}, or {@code { archive: folder/ }}. */
  private Afterwards afterwards() {
    Optional<Node> node = feed.node("afterwards");
    if (node.isEmpty()) {
      return Afterwards.LEAVE;
    }
    if (!(node.get() instanceof Node.Fields)) {
      String word = feed.text("afterwards").orElse("");
      if (!word.equals("leave") && !word.equals("remove")) {
        feed.problem(
            "afterwards",
            "afterwards cannot be '%s'; it is leave, remove, or { archive: folder/ }"
                .formatted(word));
      }
      return word.equals("remove") ? new Afterwards.Remove() : Afterwards.LEAVE;
    }
    Section section = feed.section("afterwards", node.get());
    String text = section.required("archive");
    section.done();
    String folder = text.endsWith("/") ? text : text + "/";
    if (folder.startsWith("/") || List.of(folder.split("/")).contains("..")) {
      section.problem("archive", "'" + text + "' is outside the depot");
    }
    String prefix = files().map(FilePattern::prefix).orElse("none");
    if (folder.startsWith(prefix)) {
      section.problem(
          "archive",
          "the folder %s is within the feed's files (%s…): they would be loaded again"
              .formatted(folder, prefix));
    }
    return new Afterwards.Archive(folder);
  }
}
