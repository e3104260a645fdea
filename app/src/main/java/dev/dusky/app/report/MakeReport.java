package dev.dusky.app.report;

import dev.dusky.app.balance.BalanceBooks;
import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.UnusualFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.advice.Advice;
import dev.dusky.core.advice.Remedy;
import dev.dusky.core.balance.Chains;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.concurrent.Errand;
import dev.dusky.core.concurrent.Together;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.Journal;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.report.Settled;
import dev.dusky.core.usage.UsageLine;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Gathers the figures of a report. Nothing is changed. */
public final class MakeReport {

  /** The number of entries of files, of merge runs and of drifts that a report shows. */
  public static final int MOST_FILES = 1000;

  private static final Duration UNUSUAL_SINCE = Duration.ofDays(1);
  private static final int MOST_RUNS = 200;
  private static final int MOST_DRIFTS = 200;

  /** How many open rejects are read to explain them; feeds with few come first. */
  private static final long MOST_EXPLAINED = 10_000;

  /** How many feeds and merges are compared at a time. */
  private static final int AT_ONCE = 4;

  private final Workspace workspace;

  /** A report of that workspace. */
  public MakeReport(Workspace workspace) {
    this.workspace = workspace;
  }

  /**
   * Gathers the figures.
   *
   * @param names feeds and merges; all if there are none. A feed brings the merges from its table
   * @param period how far back, from now
   * @param zone the time zone of the days; the first day is whole
   * @param proof whether the ledger is compared with the tables
   */
  public Report make(List<String> names, Duration period, ZoneId zone, boolean proof) {
    Instant now = Instant.now();
    Instant since = now.minus(period).atZone(zone).toLocalDate().atStartOfDay(zone).toInstant();
    List<Feed> feeds = workspace.configuration().feedsOrAll(names);
    List<Merge> merges = merges(names.isEmpty(), feeds);
    List<String> chosen = feeds.stream().map(Feed::name).toList();
    workspace.warehouse(); // prepared once, before all
    Errand<List<FeedStatus>> looking =
        Errand.start("dusky-report-feeds", () -> FeedStatus.of(workspace, feeds, now));
    Errand<Optional<Report.Proof>> proving =
        Errand.start(
            "dusky-report-proof",
            () -> proof ? Optional.of(proof(feeds, merges)) : Optional.empty());
    ReportEntries entries = workspace.warehouse().report();
    List<RejectSum> rejects = entries.rejects(chosen, since, now);
    Map<String, String> advice = advice(rejects);
    List<Settled> settled = entries.settled(chosen, since, now);
    List<FileSum> files = entries.files(chosen, since, now, MOST_FILES);
    long fileCount = entries.fileCount(chosen, since, now);
    List<FeedStatus> states = looking.take();
    Optional<Report.Proof> proved = proving.take();
    Needs needs = new Needs();
    needs.addAll(states);
    feeds.forEach(
        feed -> needs.addUnusual(UnusualFiles.of(workspace, feed, now.minus(UNUSUAL_SINCE))));
    proved.ifPresent(p -> p.feeds().forEach(needs::add));
    proved.ifPresent(p -> p.merges().forEach(needs::add));
    return new Report(
        now,
        since,
        zone,
        workspace.warehouse().place(),
        states,
        periods(states, since),
        settled,
        rejects,
        advice,
        files,
        fileCount,
        runs(merges, since),
        drifts(chosen, since),
        usage(entries, chosen, merges, since, now),
        workspace.configuration().prices(),
        proved,
        needs.all());
  }

  private List<Merge> merges(boolean all, List<Feed> feeds) {
    return workspace.configuration().merges().values().stream()
        .filter(
            merge ->
                all
                    || merge.source() instanceof MergeSource.Landing landing
                        && feeds.stream().anyMatch(f -> f.into().equals(landing.table())))
        .toList();
  }

  private Report.Proof proof(List<Feed> feeds, List<Merge> merges) {
    BalanceBooks books = new BalanceBooks(workspace, false);
    List<FeedBalance> ofFeeds = books.feeds(feeds);
    List<MergeBalance> ofMerges = Together.map(merges, AT_ONCE, books::merge);
    Map<String, Chains> chains = new HashMap<>();
    for (Merge merge : merges) {
      workspace.warehouse().proofs().chains(merge).ifPresent(c -> chains.put(merge.name(), c));
    }
    return new Report.Proof(Instant.now(), ofFeeds, ofMerges, chains);
  }

  /** The periods with expected files, as far back as a feed's state has them. */
  private static Map<String, List<Expected>> periods(List<FeedStatus> states, Instant since) {
    Map<String, List<Expected>> periods = new HashMap<>();
    for (FeedStatus feed : states) {
      if (!feed.expected().isEmpty()) {
        periods.put(
            feed.feed(),
            feed.expected().stream().filter(p -> !p.begins().isBefore(since)).toList());
      }
    }
    return periods;
  }

  private Map<String, String> advice(List<RejectSum> rejects) {
    Map<String, Long> open = new HashMap<>();
    rejects.forEach(reject -> open.merge(reject.feed(), reject.open(), Long::sum));
    ReviewRejects review = new ReviewRejects(workspace);
    Map<String, String> advice = new HashMap<>();
    long explained = 0;
    for (String name : open.keySet().stream().sorted(Comparator.comparing(open::get)).toList()) {
      explained += open.get(name);
      if (open.get(name) > 0 && explained <= MOST_EXPLAINED) {
        review.feed(name).ifPresent(feed -> advise(review, feed, advice));
      }
    }
    return advice;
  }

  private static void advise(ReviewRejects review, Feed feed, Map<String, String> advice) {
    for (ReviewRejects.Group group : review.groups(RejectChoice.open(Optional.of(feed.name())))) {
      String reason =
          Report.reason(feed.name(), group.group().column(), group.group().code().label());
      Advice.of(feed, group.group(), group.rules()).stream()
          .map(Remedy::text)
          .findFirst()
          .ifPresent(text -> advice.put(reason, text));
    }
  }

  private static List<UsageLine> usage(
      ReportEntries entries, List<String> feeds, List<Merge> merges, Instant since, Instant now) {
    List<String> names = merges.stream().map(Merge::name).toList();
    return entries.usage(since, now).stream()
        .filter(line -> (line.merge() ? names : feeds).contains(line.name()))
        .toList();
  }

  private List<MergeLine> runs(List<Merge> merges, Instant since) {
    Journal journal = workspace.warehouse().ledger().journal();
    return merges.stream()
        .flatMap(merge -> journal.merges(JournalChoice.of(merge.name()), MOST_RUNS).stream())
        .filter(run -> !run.started().isBefore(since))
        .sorted(Comparator.comparing(MergeLine::mergeId).reversed())
        .limit(MOST_RUNS)
        .toList();
  }

  private List<DriftLine> drifts(List<String> feeds, Instant since) {
    Journal journal = workspace.warehouse().ledger().journal();
    return feeds.stream()
        .flatMap(
            feed ->
                journal
                    .drifts(Optional.of(feed), Optional.empty(), Optional.empty(), MOST_DRIFTS)
                    .stream())
        .filter(drift -> !drift.at().isBefore(since))
        .sorted(Comparator.comparing(DriftLine::at).reversed())
        .limit(MOST_DRIFTS)
        .toList();
  }
}
