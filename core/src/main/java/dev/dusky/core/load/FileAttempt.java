package dev.dusky.core.load;

import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.TrailerReader;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.RowWriter;
import java.io.IOException;
import java.time.Instant;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * One attempt to load a file: open, read, bind, write, judge, settle. If something comes to light
 * that must be known before, the attempt says so and the file is tried again.
 */
final class FileAttempt {

  private final FileTask task;
  private final LoadRun run;
  private final StagedFile file;
  private final FileDrift drift;
  private final long[] refused;
  private final ControlTotals controls;
  private final FileReading reading;
  private final FileFindings found = new FileFindings();
  private final FileSettlement settlement;
  private final ColumnTotals sums;
  private final NullCounts nulls;
  private final WrongFileDetector wrongFile = new WrongFileDetector();
  private Feed feed;
  private FileRepeats repeats;

  /**
   * An attempt.
   *
   * @param drift how the file differs from its feed
   * @param refused records that the table has refused in an earlier attempt, ascending
   */
  FileAttempt(FileTask task, FileDrift drift, long[] refused) {
    this.task = task;
    this.run = task.run();
    this.feed = run.feed();
    this.file = task.file();
    this.drift = drift;
    this.refused = refused;
    this.controls = new ControlTotals(run, file);
    this.reading = new FileReading(task, controls);
    this.settlement = new FileSettlement(task, drift, controls, found);
    this.sums = new ColumnTotals(feed);
    this.nulls = new NullCounts(feed);
  }

  /** Refuses the file without reading it. */
  FileResult refuse(Failure failure) {
    try (RejectSpool none = new RejectSpool()) {
      return settlement.refuseUnread(none, failure.getMessage());
    }
  }

  /** Loads the file. Failures of depot and warehouse pass through; the file stays waiting. */
  AttemptOutcome run() {
    if (task.replaces()) {
      String why = run.again() ? "loaded again" : "replaced by its revised content";
      task.posting().claim().withdraw(why, task.posting().removal());
    }
    try (RejectSpool rejects = new RejectSpool();
        FileRepeats ofFile = task.beside().repeats().begin(task.posting(), refused)) {
      repeats = ofFile;
      settlement.repeats(ofFile);
      return open(rejects);
    } catch (IOException e) {
      throw reading.unreadable(e);
    }
  }

  /** Reads the file for the hashes of its rows alone. */
  void survey(FileRepeats into) throws IOException {
    repeats = into;
    try {
      feed = drift.beforeOpening(run.depot());
      readSurvey();
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      // What is wrong with the file is reported when it is read to be written.
    }
  }

  private AttemptOutcome open(RejectSpool rejects) throws IOException {
    try {
      feed = drift.beforeOpening(run.depot());
      if (repeats.surveys()) {
        survey();
      }
      try (FileContent content = reading.content(feed)) {
        return load(content, rejects);
      }
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      return done(settlement.refuseUnread(rejects, failure.getMessage()));
    }
  }

  private static AttemptOutcome done(FileResult result) {
    return new AttemptOutcome.Done(result);
  }

  private AttemptOutcome load(FileContent content, RejectSpool rejects) throws IOException {
    try {
      Optional<AttemptOutcome> before = read(content, rejects);
      return before.isPresent() ? before.get() : done(judge(content, rejects));
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      return done(settlement.refuse(content, rejects, failure.getMessage() + fitting(" ")));
    }
  }

  /** Reads and writes the whole file; gives what must happen before it can be loaded, if any. */
  private Optional<AttemptOutcome> read(FileContent content, RejectSpool rejects)
      throws IOException {
    if (task.inline().isEmpty()) {
      content.readAhead();
    }
    controls.collect(task.facts());
    RecordReader reader = reading.open(content, feed);
    found.preamble = reader.preamble();
    feed = shaped(reader, drift);
    FieldPlan plan = reading.plan(reader, feed);
    if (!write(content, reader, plan, rejects)) {
      return Optional.of(new AttemptOutcome.NeedsSurvey());
    }
    Optional<Growth> growth = drift.conclude(found.read);
    if (growth.isPresent()) {
      repeats.forget();
      return Optional.of(new AttemptOutcome.NeedsGrowth(growth.get(), drift.all()));
    }
    if (!repeats.refused(found.refusals.records())) {
      return Optional.of(new AttemptOutcome.NeedsOthers(found.refusals.records()));
    }
    if (reader instanceof TrailerReader trailer) {
      trailer.figures().ifPresent(controls::add);
    }
    found.totals = sums.totals(found.refusals, controls.stated());
    found.nulls = nulls.counts();
    found.fingerprint = Optional.of(content.fingerprint());
    RefusedRecords.read(
        run.depot(),
        file,
        feed.limits(),
        again -> reading.open(again, feed),
        found.refusals,
        keep(rejects));
    return Optional.empty();
  }

  /** The feed as it reads this file; the reader is closed if it cannot. */
  private Feed shaped(RecordReader reader, FileDrift noting) throws IOException {
    try {
      return noting.opened(feed, reader.names());
    } catch (Failure failure) {
      reader.close();
      throw failure;
    }
  }

  /** Reads the file once before anything is written, to find out which of its rows stay. */
  private void survey() throws IOException {
    try {
      readSurvey();
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      // What is wrong with the file is reported when it is read to be written.
    }
    repeats.surveyed();
  }

  private void readSurvey() throws IOException {
    try (FileContent content = reading.content(feed)) {
      content.readAhead();
      RecordReader reader = reading.open(content, feed);
      Feed as = shaped(reader, drift.again());
      FieldPlan plan = reading.plan(reader, as);
      try (RowSource rows = reading.rows(content, reader, as, plan)) {
        for (RowBatch batch = reading.next(rows); batch != null; batch = reading.next(rows)) {
          repeats.survey(batch);
          rows.recycle(batch);
        }
      }
    }
  }

  /**
   * Reads, types and writes all rows, to the end even when the file is beyond its tolerance.
   *
   * @return false if the file must be surveyed first
   */
  private boolean write(
      FileContent content, RecordReader reader, FieldPlan plan, RejectSpool rejects)
      throws IOException {
    long sent = 0;
    try (RowSource rows = reading.rows(content, reader, feed, plan);
        RowWriter writer = task.posting().change().writer()) {
      for (RowBatch batch = reading.next(rows); batch != null; batch = reading.next(rows)) {
        if (!repeats.filter(batch)) {
          return false;
        }
        found.count(batch);
        sums.add(batch);
        nulls.add(batch);
        batch.rejects().forEach(wrongFile::add);
        batch.rejects().forEach(keep(rejects));
        if (drift.take(batch.seen())) { // else the table grows first
          sent += batch.count();
          writer.write(batch);
        }
        rows.recycle(batch);
        run.listener().progress(file, found.read, content.storedBytes());
        if (found.read >= run.mostRows()) {
          break;
        }
      }
      if (found.read < run.mostRows()) {
        FileReading.drain(content);
        controls.readToEnd();
      }
      found.written(writer.finish(), writer.refusals());
    }
    long taken = found.loaded + found.refusals.count();
    if (taken != sent) {
      throw Failure.warehouse("Posting " + file.path() + " stopped")
          .because(
              "%,d rows were sent, but the warehouse took %,d and refused %,d"
                  .formatted(sent, found.loaded, found.refusals.count()))
          .hint("A rule of " + feed.into() + " may redirect rows; nothing was kept");
    }
    return true;
  }

  private Consumer<Reject> keep(RejectSpool rejects) {
    return reject -> {
      if (rejects.count() < feed.rejectCap()) {
        rejects.add(reject);
      }
    };
  }

  /** Decides in the file's turn what becomes of it. */
  private FileResult judge(FileContent content, RejectSpool rejects) {
    reading.awaitOrder();
    TwinPolicy twins = feed.policies().arrivals().twins();
    Optional<FileEntry> twin = task.posting().claim().twinOf(found.fingerprint.orElseThrow());
    if (twin.isPresent() && twins == TwinPolicy.SKIP) {
      return settlement.twin(content, twin.get());
    }
    if (twin.isPresent() && twins == TwinPolicy.HALT) {
      String message =
          "same content as %s, posted in load %d, and this feed has twins: halt"
              .formatted(twin.get().path(), twin.get().loadId().orElseThrow());
      return settlement.refuse(content, rejects, message);
    }
    Optional<String> mismatch = controls.mismatch(found.read, found.totals);
    if (mismatch.isPresent()) {
      return settlement.refuse(content, rejects, mismatch.get());
    }
    Optional<String> common = wrongFile.verdict(found.read, found.rejected, feed.tolerance());
    if (common.isPresent()) {
      return refuseWrong(content, common.get());
    }
    if (!feed.tolerance().allows(found.rejected, found.read)) {
      String beyond = feed.tolerance().exceeded(found.rejected, found.read);
      return settlement.refuse(content, rejects, beyond);
    }
    Optional<String> unusual = unusual();
    if (unusual.isPresent()) {
      return settlement.refuse(content, rejects, unusual.get());
    }
    if (found.read == 0) {
      throw Failure.file(file.path() + " has no rows")
          .hint("Ask the sender whether that is right; nothing was loaded");
    }
    Optional<String> beyond =
        LoadTolerance.exceeded(feed, task.before(), found.rejected, found.read);
    if (beyond.isPresent()) {
      return settlement.refuse(content, rejects, beyond.get());
    }
    return settlement.post(content, rejects);
  }

  /** Why the file's volume refuses it, if it does. */
  private Optional<String> unusual() {
    Volume volume =
        new Volume(
            file.path(),
            Instant.now(),
            found.read,
            file.size(),
            found.rejected,
            found.loaded,
            found.nulls);
    return feed.policies()
        .expectations()
        .volume()
        .flatMap(policy -> policy.refusal(volume, run.past()));
  }

  /** A file of another feed has one reject, whatever the number of its records. */
  private FileResult refuseWrong(FileContent content, String common) {
    String message =
        "%,d of %,d rows fail the same way: %s; it probably does not belong to feed %s%s"
            .formatted(found.rejected, found.read, common, feed.name(), fitting(". "));
    try (RejectSpool one = new RejectSpool()) {
      one.add(wrongFile.reject(message));
      return settlement.refuse(content, one, message);
    }
  }

  private String fitting(String before) {
    return run.fitting()
        .find(run.depot(), file, feed)
        .map(name -> before + "It can be read as a file of feed " + name)
        .orElse("");
  }
}
