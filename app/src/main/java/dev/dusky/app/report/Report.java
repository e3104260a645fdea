package dev.dusky.app.report;

import dev.dusky.app.config.Prices;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.balance.Chains;
import dev.dusky.core.balance.FeedBalance;
import dev.dusky.core.balance.MergeBalance;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import dev.dusky.core.report.Settled;
import dev.dusky.core.usage.UsageLine;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The ledger over a period, as a report shows it.
 *
 * @param made when it was made; the period ends then
 * @param since when the period begins
 * @param zone the time zone of its days
 * @param place the warehouse
 * @param feeds the feeds as they are now
 * @param periods the periods for which files were expected, by feed, the earliest first
 * @param settled what was settled, by quarter of an hour
 * @param advice the first remedy of a reject by {@link #reason}
 * @param files the newest entries of files
 * @param fileCount how many there are
 * @param usage what loads and merges used
 * @param prices what that costs, if it is configured
 * @param proof what the books say, if it was asked for
 * @param needs what needs a person, faults first
 */
public record Report(
    Instant made,
    Instant since,
    ZoneId zone,
    String place,
    List<FeedStatus> feeds,
    Map<String, List<Expected>> periods,
    List<Settled> settled,
    List<RejectSum> rejects,
    Map<String, String> advice,
    List<FileSum> files,
    long fileCount,
    List<MergeLine> merges,
    List<DriftLine> drifts,
    List<UsageLine> usage,
    Optional<Prices> prices,
    Optional<Proof> proof,
    List<Need> needs) {

  /**
   * The ledger against tables and targets.
   *
   * @param at when they were compared
   * @param chains the chains of versions of merges that keep a history, by merge
   */
  public record Proof(
      Instant at, List<FeedBalance> feeds, List<MergeBalance> merges, Map<String, Chains> chains) {}

  /** What {@link #advice} knows a reason by. */
  public static String reason(String feed, String column, String code) {
    return feed + "\n" + column + "\n" + code;
  }
}
