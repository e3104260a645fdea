package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.record.TrailerReader;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import java.io.IOException;
import java.math.BigDecimal;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * One file from the depot's bytes to a settled ledger entry. Its path, forwards only: open, read
 * and bind in a {@link RowSource}, write, wait for the turn, then post, refuse, or recognise as a
 * twin. More than 500 lines, so that the whole path of a file is told in one place.
 */
final class FileLoad {

  /** Files of so many bytes are read by ranges, if they can be. */
  private static final long LEAST_RANGED = 4L * RangedRows.RANGE;

  private final LoadRun run;
  private Feed feed;
  private final StagedFile file;
  private final FileFacts facts;
  private final FileClaim claim;
  private final boolean replaces;
  private final Tally before;
  private final ControlTotals controls;
  private final ColumnTotals sums;
  private final ConcurrentFiles beside;
  private final FileDrift drift;
  private final long[] refused;
  private final WrongFileDetector sameFault = new WrongFileDetector();
  private final long startNanos = System.nanoTime();
  private RecordBatch batch;
  private byte[] preamble = new byte[0];
  private List<ControlTotal> totals = List.of();
  private FileRepeats repeats;
  private Refusals refusals = new Refusals(0);
  private Optional<String> fingerprint = Optional.empty();
  private long read;
  private long loaded;
  private long rejected;
  private long filtered;
  private long duplicate;

  /**
   * A load of one file.
   *
   * @param replaces whether what is in the table of it goes out first
   * @param before the account of the load's posted files so far
   * @param beside the files that are loaded at the same time
   * @param drift how the file differs from its feed
   * @param refused records that the table has refused in an earlier try, ascending
   */
  FileLoad(
      LoadRun run,
      StagedFile file,
      FileFacts facts,
      FileClaim claim,
      boolean replaces,
      Tally before,
      ConcurrentFiles beside,
      FileDrift drift,
      long[] refused) {
    this.refused = refused;
    this.run = run;
    this.feed = run.feed();
    this.file = file;
    this.facts = facts;
    this.claim = claim;
    this.replaces = replaces;
    this.before = before;
    this.beside = beside;
    this.drift = drift;
    this.controls = new ControlTotals(run, file);
    this.sums = new ColumnTotals(feed);
  }

  /** The same on the caller's thread alone, for a small file. */
  FileLoad inline(RecordBatch reused) {
    batch = reused;
    return this;
  }

  /** Deals with the file. Depot and warehouse failures pass through; the file stays waiting. */
  FileResult run() {
    if (replaces) {
      claim.withdraw(run.again() ? "loaded again" : "replaced by its revised content");
    }
    try (RejectSpool rejects = new RejectSpool();
        FileRepeats fileRepeats = beside.repeats().begin(claim, refused)) {
      repeats = fileRepeats;
      try {
        feed = drift.beforeOpening(run.depot());
      } catch (Failure failure) {
        if (failure.kind() != Failure.Kind.FILE) {
          throw failure;
        }
        return refuseUnopened(rejects, failure.getMessage());
      } catch (IOException e) {
        throw unreadable(e);
      }
      if (repeats.surveys()) {
        survey();
      }
      try (FileContent content = new FileContent(file.path(), controls.open(), feed.limits())) {
        try {
          return load(content, rejects);
        } catch (Failure failure) {
          if (failure.kind() != Failure.Kind.FILE) {
            throw failure;
          }
          return refuse(content, rejects, failure.getMessage() + fitting(" "));
        }
      } catch (Failure failure) {
        if (failure.kind() != Failure.Kind.FILE) {
          throw failure;
        }
        return refuseUnopened(rejects, failure.getMessage());
      } catch (IOException e) {
        throw unreadable(e);
      }
    }
  }

  private FileResult load(FileContent content, RejectSpool rejects) throws IOException {
    if (batch == null) {
      content.readAhead();
    }
    controls.collect(facts);
    RecordReader reader = open(content);
    preamble = reader.preamble();
    feed = shaped(reader);
    FieldPlan plan = plan(reader);
    checkFacts(reader);
    write(content, reader, plan, rejects);
    try {
      drift.conclude(read);
    } catch (FileDrift.Growing growing) {
      repeats.forget();
      throw growing;
    }
    repeats.refused(refusals.records());
    if (reader instanceof TrailerReader trailer) {
      trailer.figures().ifPresent(controls::add);
    }
    totals = sums.totals(refusals, controls.stated());
    fingerprint = Optional.of(content.fingerprint());
    RefusedRecords.read(run.depot(), file, feed.limits(), this::open, refusals, keep(rejects));
    awaitTurn();
    Optional<FileEntry> twin = claim.twinOf(fingerprint.get());
    if (twin.isPresent() && feed.policies().arrivals().twins() != TwinPolicy.LOAD) {
      return feed.policies().arrivals().twins() == TwinPolicy.SKIP
          ? twin(content, twin.get())
          : refuse(
              content,
              rejects,
              "same content as %s, posted in load %d, and twins of this feed halt"
                  .formatted(twin.get().path(), twin.get().loadId().orElseThrow()));
    }
    Optional<String> mismatch = controls.mismatch(read, totals);
    Optional<String> common = sameFault.verdict(read, rejected, feed.tolerance());
    if (mismatch.isPresent()) {
      return refuse(content, rejects, mismatch.get());
    }
    if (common.isPresent()) {
      return refuseWrong(content, common.get());
    }
    Optional<String> beyond = beyondTolerance();
    if (beyond.isPresent()) {
      return refuse(content, rejects, beyond.get());
    }
    if (read == 0) {
      throw Failure.file(file.path() + " has no rows")
          .next("Ask the sender whether that is right; nothing was loaded");
    }
    Tally tally = Tally.posted(read, loaded, duplicate, rejected, filtered);
    return settle(outcome(FileState.POSTED, tally, content, Optional.empty(), ""), rejects);
  }

  /** Reads the file once before anything is written, to find out which of its rows stay. */
  private void survey() {
    try (FileContent content = new FileContent(file.path(), controls.open(), feed.limits())) {
      content.readAhead();
      RecordReader reader = open(content);
      Feed as = shapedAgain(reader);
      FieldPlan plan = FieldPlan.of(as, file.path(), reader.names());
      try (RowSource pipeline =
          rows(content, reader, () -> new Binder(as, plan, facts, reader.typed()).hashing())) {
        for (RowBatch batch = next(pipeline); batch != null; batch = next(pipeline)) {
          repeats.survey(batch);
          pipeline.recycle(batch);
        }
      }
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      // What is wrong with the file is told when it is read to be written.
    } catch (IOException e) {
      throw unreadable(e);
    }
    repeats.surveyed();
  }

  private Failure unreadable(IOException e) {
    return Failure.depot("Reading " + file.path() + " from depot " + run.depot().name() + " failed")
        .because(String.valueOf(e.getMessage()))
        .next("Nothing of the file was loaded. Load again once the depot answers")
        .from(e);
  }

  private RecordReader open(FileContent content) throws IOException {
    RecordReader reader =
        Readers.open(
            SourceFile.of(file.path(), content), feed.layout(), FeedInputs.of(feed).request());
    return TrailerReader.around(
        file.path(), reader, feed.layout(), feed.policies().expectations().trailer());
  }

  /** Reads, types and writes all of it, to the end even when it is beyond tolerance already. */
  private void write(FileContent content, RecordReader reader, FieldPlan plan, RejectSpool rejects)
      throws IOException {
    long sent = 0;
    try (RowSource pipeline =
            rows(content, reader, () -> new Binder(feed, plan, facts, reader.typed()).hashing());
        RowWriter writer = claim.writer()) {
      for (RowBatch batch = next(pipeline); batch != null; batch = next(pipeline)) {
        read += batch.read();
        rejected += batch.rejected();
        filtered += batch.filtered();
        repeats.filter(batch);
        duplicate += batch.repeats();
        sent += batch.count();
        sums.add(batch);
        batch.rejects().forEach(sameFault::add);
        batch.rejects().forEach(keep(rejects));
        if (drift.take(batch.seen())) {
          writer.write(batch);
        } else {
          sent -= batch.count(); // the table grows first, and the file begins anew
        }
        pipeline.recycle(batch);
        run.listener().progress(file, read, content.storedBytes());
      }
      drain(content);
      controls.readToEnd();
      loaded = writer.finish();
      refusals = writer.refusals();
    }
    rejected += refusals.count();
    if (loaded + refusals.count() != sent) {
      throw Failure.warehouse("Posting " + file.path() + " stopped")
          .because(
              "%,d rows were sent, but the warehouse took %,d and refused %,d"
                  .formatted(sent, loaded, refusals.count()))
          .next("A rule of " + feed.into() + " may redirect rows; nothing was kept");
    }
  }

  private Consumer<Reject> keep(RejectSpool rejects) {
    return reject -> {
      if (rejects.count() < feed.rejectCap()) {
        rejects.add(reject);
      }
    };
  }

  private Optional<String> beyondTolerance() {
    if (!feed.tolerance().allows(rejected, read)) {
      return Optional.of(feed.tolerance().exceeded(rejected, read));
    }
    Tolerance load = feed.policies().loadTolerance();
    long inLoad = before.rejected() + rejected;
    long readInLoad = before.read() + read;
    return load.allows(inLoad, readInLoad)
        ? Optional.empty()
        : Optional.of("with this file, in the whole load " + load.exceeded(inLoad, readInLoad));
  }

  private Feed shaped(RecordReader reader) throws IOException {
    try {
      return drift.opened(feed, reader.names());
    } catch (Failure failure) {
      reader.close();
      throw failure;
    }
  }

  /** The same without noting anything a second time. */
  private Feed shapedAgain(RecordReader reader) throws IOException {
    try {
      return drift.again().opened(feed, reader.names());
    } catch (Failure failure) {
      reader.close();
      throw failure;
    }
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

  private RowSource rows(FileContent content, RecordReader reader, Supplier<Binder> binders) {
    if (batch != null) {
      return new InlineRows(file.path(), reader, binders.get(), batch);
    }
    boolean ranged =
        file.size() >= LEAST_RANGED
            && content.compression() == Compression.PLAIN
            && run.depot().seekable(file)
            && !controls.digests();
    return ranged && reader.ranges().isPresent()
        ? new RangedRows(
            file.path(), reader, file.size(), this::range, content, binders, beside.atOnce())
        : new RowPipeline(file.path(), reader, binders);
  }

  private byte[] range(long position, int length) throws IOException {
    return position >= file.size() ? new byte[0] : run.depot().bytes(file, position, length);
  }

  private RowBatch next(RowSource pipeline) throws IOException {
    if (run.stopped().getAsBoolean() || beside.turn().lost()) {
      throw interrupted();
    }
    try {
      return pipeline.next();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw interrupted();
    }
  }

  private void awaitTurn() {
    try {
      beside.turn().await();
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

  private FileResult twin(FileContent content, FileEntry original) {
    if (!claim.undoRows()) {
      return takenMeanwhile();
    }
    String message =
        "same content as %s, posted in load %d".formatted(original.path(), original.loadId().get());
    totals =
        totals.stream()
            .map(
                t ->
                    new ControlTotal(
                        t.column(), BigDecimal.ZERO, BigDecimal.ZERO, t.all(), t.expected()))
            .toList();
    try (RejectSpool none = new RejectSpool()) {
      return settle(
          outcome(FileState.TWIN, Tally.twin(read), content, Optional.of(original), message), none);
    }
  }

  private FileResult refuse(FileContent content, RejectSpool rejects, String message) {
    if (!claim.undoRows()) {
      return takenMeanwhile();
    }
    Tally tally = Tally.refused(read, rejected, filtered);
    return settle(outcome(FileState.REFUSED, tally, content, Optional.empty(), message), rejects);
  }

  /** A file of another feed has one reject, however many records it has. */
  private FileResult refuseWrong(FileContent content, String common) {
    String message =
        "%,d of %,d rows fail the same way: %s; it is probably no file of feed %s%s"
            .formatted(rejected, read, common, feed.name(), fitting(". "));
    try (RejectSpool one = new RejectSpool()) {
      one.add(sameFault.reject(message));
      return refuse(content, one, message);
    }
  }

  private String fitting(String before) {
    return run.fitting()
        .find(run.depot(), file, feed)
        .map(name -> before + "It reads well as a file of feed " + name)
        .orElse("");
  }

  /** Refuses the file without reading it again. */
  FileResult refuse(Failure failure) {
    try (RejectSpool none = new RejectSpool()) {
      return refuseUnopened(none, failure.getMessage());
    }
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
            message,
            preamble,
            Optional.empty(),
            List.of(),
            FileOutcome.Repeats.NONE,
            drift.all()),
        rejects);
  }

  private FileResult takenMeanwhile() {
    return FileResult.passed(file, FileState.WAITING, elapsed(), "claimed by another load");
  }

  private FileOutcome outcome(
      FileState state,
      Tally tally,
      FileContent content,
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
        message,
        preamble,
        controls.expectedRows(),
        totals,
        state == FileState.POSTED ? repeatsOf() : FileOutcome.Repeats.NONE,
        drift.all());
  }

  private FileOutcome.Repeats repeatsOf() {
    if (feed.policies().repeats().unseen()) {
      return FileOutcome.Repeats.NONE;
    }
    return feed.policies().repeats().remove()
        ? new FileOutcome.Repeats(Optional.empty(), repeats.runs(), repeats.fileIds())
        : new FileOutcome.Repeats(Optional.of(repeats.count()), null, List.of());
  }

  private FileResult settle(FileOutcome outcome, RejectSpool rejects) {
    if (outcome.state() != FileState.POSTED && repeats != null) {
      repeats.forget();
    }
    if (run.again() && outcome.state() != FileState.POSTED) {
      // What was posted of it before stays as it is, in table and ledger.
      return new FileResult(
          file,
          outcome.state(),
          outcome.tally(),
          elapsed(),
          outcome.message() + "; what was posted of it before stays",
          0,
          totals,
          0,
          List.of());
    }
    claim.settle(outcome, rejects);
    return new FileResult(
        file,
        outcome.state(),
        outcome.tally(),
        elapsed(),
        outcome.message(),
        rejects.count(),
        totals,
        outcome.repeats().seen().orElse(0L),
        outcome.drifts());
  }

  private Duration elapsed() {
    return Duration.ofNanos(System.nanoTime() - startNanos);
  }
}
