package dev.dusky.core.load;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.tally.Tally;
import java.util.List;
import java.util.function.BooleanSupplier;

/** A group of small files that is read and is being posted in the background. */
final class PendingGroup {

  private final List<KnownFile> files;
  private final List<FileResult> results;
  private final GroupClaim claim;
  private final BooleanSupplier send;
  private final Worker worker;
  private boolean posted;
  private Throwable failure;

  /**
   * A group.
   *
   * @param send writes the rows that are not written yet; false if the table does not take all
   */
  PendingGroup(
      List<KnownFile> files, List<FileResult> results, GroupClaim claim, BooleanSupplier send) {
    this.files = files;
    this.results = results;
    this.claim = claim;
    this.send = send;
    this.worker = new Worker("dusky-post", this::post);
  }

  /** Starts posting. */
  void start() {
    worker.start();
  }

  private void post() {
    try {
      posted = send.getAsBoolean() && claim.post();
    } catch (Throwable e) { // whatever it is, it must reach the thread that runs the load
      failure = e;
    }
  }

  /** Waits until it is posted or cannot be. */
  void await() {
    worker.join();
  }

  /** Waits for the end; true if all of it was posted, false if none. */
  boolean join() {
    worker.join();
    claim.close();
    if (failure instanceof RuntimeException unchecked) {
      throw unchecked;
    }
    if (failure instanceof Error error) {
      throw error;
    }
    return posted;
  }

  List<KnownFile> files() {
    return files;
  }

  List<FileResult> results() {
    return results;
  }

  /** The sum over its posted files and twins. */
  Tally tally() {
    return results.stream()
        .filter(result -> result.state() != FileState.REFUSED)
        .map(FileResult::tally)
        .reduce(Tally.NONE, Tally::plus);
  }
}
