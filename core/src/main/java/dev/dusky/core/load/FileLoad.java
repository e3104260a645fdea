package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.warehouse.RowWriter;
import java.io.IOException;
import java.time.Duration;
import java.util.Optional;
import java.util.function.BooleanSupplier;

/**
 * One file from the depot's bytes to a settled ledger entry. Its path, forwards only: open, read
 * and bind in a {@link RowPipeline}, write, then post, refuse, or recognise as a twin.
 */
final class FileLoad {

  private final Feed feed;
  private final Depot depot;
  private final StagedFile file;
  private final FileFacts facts;
  private final FileClaim claim;
  private final LoadListener listener;
  private final BooleanSupplier stopped;
  private final long startNanos = System.nanoTime();
  private long read;
  private long rejected;
  private long filtered;

  FileLoad(
      Feed feed,
      Depot depot,
      StagedFile file,
      FileFacts facts,
      FileClaim claim,
      LoadListener listener,
      BooleanSupplier stopped) {
    this.feed = feed;
    this.depot = depot;
    this.file = file;
    this.facts = facts;
    this.claim = claim;
    this.listener = listener;
    this.stopped = stopped;
  }

  /** Deals with the file. Depot and warehouse failures pass through; the file stays waiting. */
  FileResult run() {
    try (RejectSpool rejects = new RejectSpool()) {
      try (FileContent content = new FileContent(file.path(), depot.open(file), feed.limits())) {
        try {
          return load(content, rejects);
        } catch (Failure failure) {
          if (failure.kind() != Failure.Kind.FILE) {
            throw failure;
          }
          return refuse(content, rejects, failure.getMessage());
        }
      } catch (Failure failure) {
        if (failure.kind() != Failure.Kind.FILE) {
          throw failure;
        }
        return refuseUnopened(rejects, failure.getMessage());
      } catch (IOException e) {
        throw Failure.depot("Reading " + file.path() + " from depot " + depot.name() + " failed")
            .because(String.valueOf(e.getMessage()))
            .next("Nothing of the file was loaded. Load again once the depot answers")
            .from(e);
      }
    }
  }

  private FileResult load(FileContent content, RejectSpool rejects) throws IOException {
    content.readAhead();
    RecordReader reader =
        Readers.open(
            SourceFile.of(file.path(), content), feed.layout(), FeedInputs.of(feed).request());
    FieldPlan plan = plan(reader);
    checkFacts(reader);
    long loaded = 0;
    boolean beyond = false;
    try (RowPipeline pipeline =
            new RowPipeline(reader, () -> new Binder(feed, plan, facts, reader.typed()));
        RowWriter writer = claim.writer()) {
      for (RowBatch batch = next(pipeline); batch != null; batch = next(pipeline)) {
        read += batch.read();
        rejected += batch.rejected();
        filtered += batch.filtered();
        for (Reject reject : batch.rejects()) {
          if (rejects.count() < feed.rejectCap()) {
            rejects.add(reject);
          }
        }
        if (!beyond && feed.tolerance().surelyExceeded(rejected)) {
          beyond = true;
          writer.close();
        }
        if (!beyond) {
          loaded += batch.count();
          writer.write(batch);
        }
        pipeline.recycle(batch);
        listener.progress(file, read, content.storedBytes());
      }
      drain(content);
      beyond |= !feed.tolerance().allows(rejected, read);
      if (!beyond) {
        long taken = writer.finish();
        if (taken != loaded) {
          throw Failure.warehouse("Posting " + file.path() + " stopped")
              .because("%,d rows were sent, but the warehouse took %,d".formatted(loaded, taken))
              .next(
                  "A trigger or rule of " + feed.into() + " may leave rows out; nothing was kept");
        }
      }
    }
    if (beyond && !claim.undoRows()) {
      return takenMeanwhile();
    }
    String fingerprint = content.fingerprint();
    Optional<FileEntry> twin = claim.twinOf(fingerprint);
    if (twin.isPresent()) {
      return twin(content, fingerprint, twin.get());
    }
    if (beyond) {
      String message =
          "%,d of %,d rows rejected, over the tolerance of %s"
              .formatted(rejected, read, feed.tolerance());
      return settle(
          outcome(
              FileState.REFUSED,
              Tally.refused(read, rejected, filtered),
              content,
              Optional.of(fingerprint),
              Optional.empty(),
              message),
          rejects);
    }
    if (read == 0) {
      throw Failure.file(file.path() + " has no rows")
          .next("Ask the sender whether that is right; nothing was loaded");
    }
    Tally tally = Tally.posted(read, loaded, rejected, filtered);
    return settle(
        outcome(FileState.POSTED, tally, content, Optional.of(fingerprint), Optional.empty(), ""),
        rejects);
  }

  private FieldPlan plan(RecordReader reader) throws IOException {
    try {
      return FieldPlan.of(feed, file.path(), reader.names());
    } catch (Failure failure) {
      reader.close();
      throw failure;
    }
  }

  /** A column that comes from the path must find its value there. */
  private void checkFacts(RecordReader reader) throws IOException {
    for (FeedColumn column : feed.columns()) {
      if (column.from() instanceof FieldSource.OfFile of
          && !of.fact().equals(FileFacts.RECORD_NUMBER)
          && facts.get(of.fact()).isEmpty()) {
        reader.close();
        throw Failure.file("%s has no %s in its path".formatted(file.path(), of))
            .because("column %s of feed %s comes from there".formatted(column.name(), feed.name()))
            .next("Capture it in the feed's files pattern, or check how the file was staged");
      }
    }
  }

  private RowBatch next(RowPipeline pipeline) throws IOException {
    if (stopped.getAsBoolean()) {
      throw interrupted();
    }
    try {
      return pipeline.next();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw interrupted();
    }
  }

  private Failure interrupted() {
    return Failure.of(Failure.Kind.INTERRUPTED, "Stopped while loading " + file.path())
        .next("Nothing of this file was kept; load again to go on where this stopped");
  }

  /** Takes what is left behind the last record, so that fingerprint and checks see all of it. */
  private static void drain(FileContent content) throws IOException {
    byte[] rest = new byte[8192];
    while (content.read(rest, 0, rest.length) >= 0) {
      continue;
    }
  }

  private FileResult twin(FileContent content, String fingerprint, FileEntry original) {
    if (!claim.undoRows()) {
      return takenMeanwhile();
    }
    String message =
        "same content as %s, posted in load %d".formatted(original.path(), original.loadId().get());
    try (RejectSpool none = new RejectSpool()) {
      return settle(
          outcome(
              FileState.TWIN,
              Tally.twin(read),
              content,
              Optional.of(fingerprint),
              Optional.of(original),
              message),
          none);
    }
  }

  private FileResult refuse(FileContent content, RejectSpool rejects, String message) {
    if (!claim.undoRows()) {
      return takenMeanwhile();
    }
    Tally tally = Tally.refused(read, rejected, filtered);
    return settle(
        outcome(FileState.REFUSED, tally, content, Optional.empty(), Optional.empty(), message),
        rejects);
  }

  private FileResult refuseUnopened(RejectSpool rejects, String message) {
    if (!claim.undoRows()) {
      return takenMeanwhile();
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
            message),
        rejects);
  }

  private FileResult takenMeanwhile() {
    return new FileResult(
        file, FileState.WAITING, Tally.NONE, elapsed(), "claimed by another load", 0);
  }

  private FileOutcome outcome(
      FileState state,
      Tally tally,
      FileContent content,
      Optional<String> fingerprint,
      Optional<FileEntry> twinOf,
      String message) {
    return new FileOutcome(
        state,
        tally,
        content.storedBytes(),
        content.contentBytes(),
        fingerprint,
        elapsed(),
        twinOf,
        message);
  }

  private FileResult settle(FileOutcome outcome, RejectSpool rejects) {
    claim.settle(outcome, rejects);
    return new FileResult(
        file, outcome.state(), outcome.tally(), elapsed(), outcome.message(), rejects.count());
  }

  private Duration elapsed() {
    return Duration.ofNanos(System.nanoTime() - startNanos);
  }
}
