package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.ReplaceClaim;
import dev.dusky.core.ledger.RunningLoad;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Processes all files of a load in one transaction, in which they replace what the table holds. If
 * one of them cannot be loaded, or the table would lose too many rows, none is, and the table keeps
 * what it has.
 */
final class ReplacingScheduler implements FileScheduler {

  /** How often all of it is tried again because it conflicts with other transactions. */
  private static final int MOST_CONFLICTS = 8;

  private final LoadRun run;
  private final RunningLoad load;
  private final ReplacingFiles reading;
  private final Consumer<FileResult> results;
  private final LoadAccount account;
  private final List<KnownFile> files = new ArrayList<>();

  /**
   * A scheduler for one load.
   *
   * @param reading makes the attempts
   * @param results receives the results, once all of them are certain
   */
  ReplacingScheduler(
      LoadRun run,
      RunningLoad load,
      ReplacingFiles reading,
      LoadAccount account,
      Consumer<FileResult> results) {
    this.run = run;
    this.load = load;
    this.reading = reading;
    this.account = account;
    this.results = results;
  }

  @Override
  public void add(KnownFile known) {
    files.add(known);
  }

  @Override
  public void finish() {
    if (files.isEmpty()) {
      return;
    }
    reading.prepare();
    List<StagedFile> staged = files.stream().map(KnownFile::file).toList();
    try {
      if (!replace(staged)) {
        staged.forEach(file -> results.accept(FileResult.held(file, Duration.ZERO)));
      }
    } finally {
      tidy();
    }
  }

  /** Replaces; false if another load holds one of the files. */
  private boolean replace(List<StagedFile> staged) {
    Optional<ReplaceClaim> held =
        load.claimReplacing(staged, files.stream().map(KnownFile::entry).toList());
    if (held.isEmpty()) {
      return false;
    }
    try (ReplaceClaim claim = held.get()) {
      int conflicts = 0;
      do {
        try {
          Optional<Replacing> done = reading.read(claim, staged);
          if (done.isPresent()) {
            settle(claim, done.get());
            return true;
          }
        } catch (Failure failure) {
          if (!failure.passing() || ++conflicts > MOST_CONFLICTS) {
            throw failure;
          }
          run.listener().remark("Another transaction was in the way; all files are read again");
        }
        claim.undo();
        reading.grow();
      } while (claim.renew());
      return false;
    }
  }

  /** Rows that cannot be removed now do not fail the load; the next load tries again. */
  private void tidy() {
    try {
      reading.tidy();
    } catch (Failure failure) {
      run.listener().remark(failure.getMessage());
    }
  }

  private void settle(ReplaceClaim claim, Replacing done) {
    Optional<String> fault = done.fault(run.feed().policies().replacing());
    if (fault.isPresent()) {
      claim.refuse(fault.get());
      done.refused(fault.get()).forEach(results);
      return;
    }
    claim.post();
    account.replaced(done.filesBefore(), done.rowsBefore());
    done.results().forEach(results);
  }

  @Override
  public void close() {
    // What was not finished was rolled back with its claim.
  }
}
