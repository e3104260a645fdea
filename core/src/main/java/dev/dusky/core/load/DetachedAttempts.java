package dev.dusky.core.load;

import dev.dusky.core.bind.HashedColumns;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.dispatch.SurveyPart;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.repeat.HashBuckets;
import dev.dusky.core.repeat.HashMemory;
import dev.dusky.core.repeat.Place;
import dev.dusky.core.repeat.RowHash;
import dev.dusky.core.repeat.Verdicts;
import dev.dusky.core.tables.DetachedChange;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.tables.LandedPiece;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Attempts files where there is no ledger: the very same attempts, whose outcomes are reported
 * instead of entered.
 */
public final class DetachedAttempts {

  private final LoadRun run;
  private final DetachedTable table;
  private final DispatchOrder order;
  private final Feed feed;
  private final List<byte[]> left;

  /**
   * Attempts for a load.
   *
   * @param run the load; its feed is the feed as it is declared
   * @param left rows that are left out as repeats, as {@link HashBuckets#resolve} gives them
   */
  public DetachedAttempts(
      LoadRun run, DetachedTable table, DispatchOrder order, List<byte[]> left) {
    this.left = left;
    order.hashes().ifPresent(RowHash::share);
    this.feed = aside(run.feed().grown(order.grown()));
    this.run = run.withFeed(feed).withPast(order.past());
    this.table = table;
    this.order = order;
  }

  /** Rejects of all files together are counted where all have reported. */
  private static Feed aside(Feed feed) {
    return feed.withPolicies(feed.policies().withLoadTolerance(new Tolerance.Any()));
  }

  /**
   * The hashes of all rows of a part.
   *
   * @return a bucket each, for {@link HashBuckets#resolve}
   */
  public byte[][] survey(SurveyPart part, int buckets) {
    HashBuckets hashes = new HashBuckets(buckets);
    if (part instanceof LandedPart landed) {
      survey(landed.piece(), hashes);
    } else {
      survey((DispatchPart) part, hashes);
    }
    return hashes.bytes();
  }

  private void survey(LandedPiece piece, HashBuckets hashes) {
    RowHash hash = HashedColumns.landedHash(feed);
    table.landed(
        piece,
        feed,
        HashedColumns.columns(feed).stream().map(FeedColumn::name).toList(),
        (fileId, record, vectors, row) -> {
          if (hash.hash(vectors, row)) {
            hashes.begin(fileId);
            hashes.add(hash.high(), hash.low(), record);
          }
        });
  }

  private void survey(DispatchPart part, HashBuckets hashes) {
    DetachedChange none = table.change(feed, order.load());
    for (Assigned assigned : part.files()) {
      FilePosting posting = posting(new Reported(assigned.fileId()), none.of(assigned.fileId()));
      hashes.begin(assigned.fileId());
      try (LoadRepeats repeats = repeats((file, turns) -> new Verdicts());
          FileRepeats file = repeats.begin(posting, new long[0])) {
        attempt(assigned, posting, repeats).survey(file);
        file.surveyed((high, low, place, mark) -> hashes.add(high, low, Place.record(place)));
      } catch (IOException e) {
        hashes.unread(assigned.fileId());
      } catch (Failure failure) {
        if (failure.kind() != Failure.Kind.DEPOT) {
          throw failure;
        }
        hashes.unread(assigned.fileId()); // it is loaded where the ledger is, and reported there
      }
    }
    none.discard();
  }

  /** Attempts the files of a part; a report for each. */
  public List<FileReport> run(DispatchPart part) {
    if (part.files().size() > 1) {
      DetachedChange shared = table.change(feed, order.load());
      List<FileReport> reports = new ArrayList<>();
      for (Assigned file : part.files()) {
        reports.add(attempt(file, shared));
      }
      if (shared.whole()) {
        reports.set(0, reports.get(0).with(shared.finish()));
        return reports;
      }
      shared.discard(); // a shared data file has rows that must not stay
      reports.forEach(FileReport::close);
    }
    return part.files().stream().map(this::alone).toList();
  }

  private FileReport alone(Assigned file) {
    DetachedChange change = table.change(feed, order.load());
    FileReport report = attempt(file, change);
    boolean posted = report.outcome().map(o -> o.state() == FileState.POSTED).orElse(false);
    if (posted && change.whole()) {
      return report.with(change.finish());
    }
    change.discard();
    return report;
  }

  private FileReport attempt(Assigned assigned, DetachedChange change) {
    if (HashBuckets.isUnread(assigned.fileId(), left)) {
      return FileReport.notHere();
    }
    Reported claim = new Reported(assigned.fileId());
    LandingChange rows = change.of(assigned.fileId());
    try (LoadRepeats repeats = repeats((file, turns) -> HashBuckets.verdicts(file, left, turns))) {
      AttemptOutcome outcome = attempt(assigned, posting(claim, rows), repeats).run();
      if (outcome instanceof AttemptOutcome.Done && claim.report != null) {
        return claim.report;
      }
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.DEPOT) {
        throw failure;
      }
      // It occurs again when the file is loaded where the ledger is, and is reported there.
    }
    rows.undo();
    return FileReport.notHere();
  }

  private static FilePosting posting(FileClaim claim, LandingChange rows) {
    return new FilePosting(claim, rows, (load, file) -> 0);
  }

  private LoadRepeats repeats(LoadRepeats.Found found) {
    HashMemory memory = HashMemory.of(feed.policies().repeats());
    return order.hashes().isPresent()
        ? new LoadRepeats(feed, memory, found)
        : new LoadRepeats(feed, memory);
  }

  private FileAttempt attempt(Assigned assigned, FilePosting posting, LoadRepeats repeats) {
    FileTask task =
        new FileTask(
            run,
            assigned.file(),
            FileFacts.of(feed.files(), assigned.file(), order.load(), order.at()),
            posting,
            false,
            Tally.NONE,
            ConcurrentFiles.none(repeats),
            Optional.empty());
    FileDrift drift = new FileDrift(feed, order.grown(), assigned.file(), Optional.empty());
    return new FileAttempt(task, drift, new long[0]);
  }

  /** A claim that keeps what is entered. */
  private static final class Reported implements FileClaim {
    private final long file;
    private FileReport report;

    Reported(long file) {
      this.file = file;
    }

    @Override
    public long fileId() {
      return file;
    }

    @Override
    public Transaction transaction() {
      throw new IllegalStateException("there is no ledger here");
    }

    @Override
    public void withdraw(String why, RowRemoval removal) {
      throw new IllegalStateException("files that replace others are loaded where the ledger is");
    }

    @Override
    public String landedMark() {
      throw new IllegalStateException("repeats across files are detected where the ledger is");
    }

    @Override
    public Optional<FileEntry> twinOf(String fingerprint) {
      return Optional.empty();
    }

    @Override
    public boolean renew() {
      return true;
    }

    @Override
    public void settle(FileOutcome outcome, RejectSpool rejects) {
      report = new FileReport(Optional.of(outcome.taken()), rejects.taken(), List.of());
    }

    @Override
    public void close() {
      // Nothing is held.
    }
  }
}
