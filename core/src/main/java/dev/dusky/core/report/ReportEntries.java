package dev.dusky.core.report;

import dev.dusky.core.usage.UsageLine;
import java.time.Instant;
import java.util.Collection;
import java.util.List;

/** The port to the ledger's figures over a period. Feeds are given by name; all times are exact. */
public interface ReportEntries {

  /**
   * What was settled from {@code since} to before {@code until}, by feed and quarter of an hour.
   */
  List<Settled> settled(Collection<String> feeds, Instant since, Instant until);

  /**
   * The rejects of posted and refused files by feed, column and code, those with most open rejects
   * first.
   *
   * @param until rejects that were recorded before it
   */
  List<RejectSum> rejects(Collection<String> feeds, Instant since, Instant until);

  /**
   * The newest entries of files, newest first, those that wait for a person before all others.
   *
   * @param most how many at most
   */
  List<FileSum> files(Collection<String> feeds, Instant since, Instant until, int most);

  /** What loads and merges used that started in the period, by name and day (UTC). */
  List<UsageLine> usage(Instant since, Instant until);

  /** How many entries of files there are, of which {@link #files} gives the newest. */
  long fileCount(Collection<String> feeds, Instant since, Instant until);
}
