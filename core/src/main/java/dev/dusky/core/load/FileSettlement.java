package dev.dusky.core.load;

import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Enters the outcome of an attempt in the ledger. */
final class FileSettlement {

  private final FileTask task;
  private final StagedFile file;
  private final FileDrift drift;
  private final ControlTotals controls;
  private final FileFindings found;
  private final long startNanos = System.nanoTime();
  private Optional<FileRepeats> repeats = Optional.empty();

  FileSettlement(FileTask task, FileDrift drift, ControlTotals controls, FileFindings found) {
    this.task = task;
    this.file = task.file();
    this.drift = drift;
    this.controls = controls;
    this.found = found;
  }

  /** Returns which repeats belong to the outcome. */
  void repeats(FileRepeats ofFile) {
    repeats = Optional.of(ofFile);
  }

  /** Posts the file. */
  FileResult post(FileContent content, RejectSpool rejects) {
    task.posting().change().post();
    return settle(read(content), rejects);
  }

  /** The outcome of a file that can be posted. */
  private FileOutcome read(FileContent content) {
    return outcome(FileState.POSTED, found.posted(), content, "");
  }

  /** Enters the file as one whose content was posted before. */
  FileResult twin(FileContent content, FileEntry original) {
    if (!task.posting().undo()) {
      return held();
    }
    try (RejectSpool none = new RejectSpool()) {
      return settle(read(content).asTwinOf(original), none);
    }
  }

  /** Refuses the file after it was read. */
  FileResult refuse(FileContent content, RejectSpool rejects, String message) {
    if (!task.posting().undo()) {
      return held();
    }
    return settle(outcome(FileState.REFUSED, found.refused(), content, message), rejects);
  }

  /** Refuses a file of which no row was read. */
  FileResult refuseUnread(RejectSpool rejects, String message) {
    if (!task.posting().undo()) {
      return held();
    }
    return settle(
        new FileOutcome(
            FileState.REFUSED,
            Tally.NONE,
            0,
            0,
            Optional.empty(),
            elapsed(),
            Optional.empty(),
            message,
            found.preamble,
            Optional.empty(),
            List.of(),
            Map.of(),
            FileOutcome.Repeats.NONE,
            drift.all()),
        rejects);
  }

  /** Another load has settled the file meanwhile. */
  private FileResult held() {
    return FileResult.held(file, elapsed());
  }

  private FileOutcome outcome(FileState state, Tally tally, FileContent content, String message) {
    return new FileOutcome(
        state,
        tally,
        content.storedBytes(),
        content.contentBytes(),
        found.fingerprint,
        elapsed(),
        Optional.empty(),
        message,
        found.preamble,
        controls.expectedRows(),
        found.totals,
        found.nulls,
        state == FileState.POSTED ? repeatsOf() : FileOutcome.Repeats.NONE,
        drift.all());
  }

  private FileOutcome.Repeats repeatsOf() {
    RepeatPolicy policy = task.run().feed().policies().repeats();
    if (policy.unseen() || repeats.isEmpty()) {
      return FileOutcome.Repeats.NONE;
    }
    FileRepeats ofFile = repeats.get();
    return policy.remove()
        ? new FileOutcome.Repeats(Optional.empty(), ofFile.runs(), ofFile.fileIds())
        : new FileOutcome.Repeats(Optional.of(ofFile.count()), null, List.of());
  }

  private FileResult settle(FileOutcome outcome, RejectSpool rejects) {
    boolean posted = outcome.state() == FileState.POSTED;
    if (!posted) {
      repeats.ifPresent(FileRepeats::forget);
    }
    if (task.run().again() && !posted) {
      // What was posted of it before stays as it is, in table and ledger.
      return result(outcome, outcome.message() + "; its posted rows stay in the table", 0);
    }
    task.posting().claim().settle(outcome, rejects);
    return result(outcome, outcome.message(), rejects.count());
  }

  private FileResult result(FileOutcome outcome, String message, long rejectsKept) {
    boolean entered = !task.run().again() || outcome.state() == FileState.POSTED;
    return new FileResult(
        file,
        outcome.state(),
        outcome.tally(),
        elapsed(),
        message,
        rejectsKept,
        outcome.totals(),
        entered ? outcome.repeats().seen().orElse(0L) : 0,
        entered ? outcome.drifts() : List.of());
  }

  private Duration elapsed() {
    return Duration.ofNanos(System.nanoTime() - startNanos);
  }
}
