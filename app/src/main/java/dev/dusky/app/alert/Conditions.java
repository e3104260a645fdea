package dev.dusky.app.alert;

import dev.dusky.app.config.AlertSettings;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.UnusualFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.Condition;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.HeldFiles;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.report.Settled;
import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Finds what is so now and should not be, by the ledger. */
final class Conditions {

  /** After how many failures in a row a feed is failing. */
  private static final int FAILURES = 3;

  private static final Duration DAY = Duration.ofDays(1);
  private static final int MOST_NAMED = 3;

  private final Workspace workspace;
  private final AlertSettings settings;
  private final Instant now;
  private final List<Condition> found = new ArrayList<>();

  Conditions(Workspace workspace, AlertSettings settings, Instant now) {
    this.workspace = workspace;
    this.settings = settings;
    this.now = now;
  }

  /** All that was found. */
  List<Condition> found() {
    return List.copyOf(found);
  }

  void look(Feed feed) {
    String name = feed.name();
    FeedEntries book = workspace.warehouse().ledger().feeds();
    held(feed, book.held(name, MOST_NAMED));
    rejects(name, book.openRejectsBefore(name, now));
    long old = book.openRejectsBefore(name, now.minus(settings.rejectAge()));
    if (old > 0) {
      String words = "%s open for more than %s";
      String age = Figures.duration(settings.rejectAge());
      add(
          AlertKind.OLD_REJECTS,
          name,
          magnitude(old),
          words.formatted(Figures.plural(old, "reject"), age),
          "rejects " + name);
    }
    book.watched(name)
        .filter(watched -> watched.failures() >= FAILURES)
        .flatMap(watched -> watched.failure())
        .ifPresent(
            why -> add(AlertKind.FAILING, name, why, "Loading fails: " + why, "watch --status"));
    missing(feed);
    volume(feed);
    drift(name);
    books(name);
  }

  void look(Merge merge) {
    workspace.warehouse().ledger().journal().merges(JournalChoice.of(merge.name()), 1).stream()
        .filter(run -> run.state().equals("failed"))
        .forEach(
            run ->
                add(
                    AlertKind.MERGE_STOPPED,
                    merge.name(),
                    run.message(),
                    "The merge stopped: " + run.message(),
                    "journal " + merge.name()));
    books(merge.name());
  }

  /** The depot is asked only if the ledger has such files: they may have left it. */
  private void held(Feed feed, HeldFiles held) {
    if (held.count() > 0 && stillThere(feed)) {
      String more = held.count() > held.paths().size() ? " and others" : "";
      add(
          AlertKind.FILE_REFUSED,
          feed.name(),
          held.print(),
          "%s refused or changed: %s%s"
              .formatted(
                  Figures.plural(held.count(), "file"), String.join(", ", held.paths()), more),
          "files %s --state refused".formatted(feed.name()));
    }
  }

  private boolean stillThere(Feed feed) {
    FeedStatus status = FeedStatus.of(workspace, feed, now);
    return status.unlisted().isPresent() || status.held() > 0;
  }

  private void rejects(String feed, long open) {
    long read = 0;
    long rejected = 0;
    if (settings.rejectShare().isPresent()) {
      for (Settled settled :
          workspace.warehouse().report().settled(List.of(feed), now.minus(DAY), now)) {
        read += settled.read();
        rejected += settled.rejected();
      }
    }
    long readRows = read;
    BigDecimal rejectedRows = BigDecimal.valueOf(rejected).movePointRight(2);
    boolean share =
        settings
            .rejectShare()
            .filter(
                percent ->
                    rejectedRows.compareTo(percent.multiply(BigDecimal.valueOf(readRows))) > 0)
            .isPresent();
    if (share) {
      add(
          AlertKind.REJECTS,
          feed,
          "share " + magnitude(rejected),
          "%s of %s rows of the last day were rejected"
              .formatted(Figures.count(rejected), Figures.count(read)),
          "rejects " + feed);
    } else if (open > settings.rejects()) {
      String words = Figures.plural(open, "reject") + " open";
      add(AlertKind.REJECTS, feed, magnitude(open), words, "rejects " + feed);
    }
  }

  /** Numbers of the same magnitude do not count as a change; each doubling does. */
  private static String magnitude(long number) {
    return "2^" + (64 - Long.numberOfLeadingZeros(number));
  }

  private void missing(Feed feed) {
    List<Expected> missing =
        FeedStatus.expectedByLedger(workspace, feed, now).stream()
            .filter(period -> period.verdict() == Expected.Verdict.MISSING)
            .toList();
    if (!missing.isEmpty()) {
      long files = missing.stream().mapToLong(p -> p.files() - p.came()).sum();
      String periods =
          missing.stream()
              .skip(Math.max(0, missing.size() - MOST_NAMED))
              .map(Expected::period)
              .collect(Collectors.joining(", "));
      Expected last = missing.get(missing.size() - 1);
      add(
          AlertKind.MISSING_FILES,
          feed.name(),
          files + " until " + last.period(),
          "%s did not come; the last of %s".formatted(Figures.plural(files, "file"), periods),
          "files %s --missing".formatted(feed.name()));
    }
  }

  private void volume(Feed feed) {
    List<UnusualFiles.Unusual> unusual = UnusualFiles.of(workspace, feed, now.minus(DAY));
    if (!unusual.isEmpty()) {
      String words =
          unusual.stream()
              .limit(MOST_NAMED)
              .map(file -> file.volume().path() + ": " + file.words())
              .collect(Collectors.joining("; "));
      add(AlertKind.VOLUME, feed.name(), words, words, "files %s --unusual".formatted(feed.name()));
    }
  }

  private void drift(String feed) {
    List<DriftLine> drifts =
        workspace
            .warehouse()
            .ledger()
            .journal()
            .drifts(Optional.of(feed), Optional.empty(), Optional.empty(), MOST_NAMED)
            .stream()
            .filter(drift -> drift.at().isAfter(now.minus(DAY)))
            .toList();
    if (!drifts.isEmpty()) {
      String fields =
          drifts.stream()
              .map(drift -> "%s (%s)".formatted(drift.field(), drift.change()))
              .distinct()
              .collect(Collectors.joining(", "));
      add(
          AlertKind.DRIFT,
          feed,
          fields,
          "Files have other fields than the feed: " + fields,
          "journal %s --drift".formatted(feed));
    }
  }

  private void books(String name) {
    workspace
        .warehouse()
        .alerts()
        .disagrees(name)
        .ifPresent(words -> add(AlertKind.BOOKS, name, words, words, "balance " + name));
  }

  private void add(AlertKind kind, String about, String print, String words, String command) {
    found.add(new Condition(kind, about, print, words, "dusky " + command));
  }
}
