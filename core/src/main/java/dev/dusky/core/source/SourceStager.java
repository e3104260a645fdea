package dev.dusky.core.source;

import dev.dusky.core.bytes.Checksums;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.SourceRun;
import dev.dusky.core.ledger.SourceRuns;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/**
 * Stages the rows of a source. They are read into local files first; once all of these are
 * complete, they are staged, then their manifest, and then the ledger has the high water. A run
 * that is stopped before is begun again and leaves nothing in the depot; one that is stopped later
 * is continued with the same files under the same names.
 */
public final class SourceStager {

  /**
   * What a run is asked for.
   *
   * @param all whether all rows are read, whatever was staged before
   * @param newShape whether other columns than in the last run are accepted
   * @param connections how many files are sent at a time
   * @param summed the columns that are added up
   */
  public record Plan(boolean all, boolean newShape, int connections, Set<String> summed) {}

  private final Source source;
  private final Depot depot;
  private final SourceRuns ledger;
  private final Plan plan;
  private final SourceListener listener;
  private final BooleanSupplier stopped;

  /** A stager for one source. */
  public SourceStager(
      Source source,
      Depot depot,
      SourceRuns ledger,
      Plan plan,
      SourceListener listener,
      BooleanSupplier stopped) {
    this.source = source;
    this.depot = depot;
    this.ledger = ledger;
    this.plan = plan;
    this.listener = listener;
    this.stopped = stopped;
  }

  /**
   * Stages the rows that are to be staged now. A run that was stopped is completed first, and then
   * nothing else is done.
   *
   * @param folder the folder that keeps the files until they are staged
   * @param by who runs it
   * @param host on which machine
   */
  public SourceResult run(Path folder, String by, String host, SourceDatabases databases) {
    long startNanos = System.nanoTime();
    try (SourceSpool spool = SourceSpool.open(folder, source.name())) {
      Optional<SourceRun> last = ledger.last(source.name());
      Optional<SourceSpool.Complete> left = spool.complete();
      if (left.isPresent() && !entered(left.get().run(), last)) {
        checkDepot(left.get().run());
        return result(deliver(spool, left.get()), true, Optional.empty(), startNanos);
      }
      spool.clear();
      try (SourceDatabase database = databases.open(source)) {
        SourceReading reading = new SourceReading(source, database, plan, last, listener, stopped);
        Instant start = Instant.now();
        List<SliceFiles.Done> files = reading.run(spool.folder(), start);
        boolean same =
            reading.from().isPresent()
                && last.orElseThrow().fingerprint().equals(fingerprint(files));
        if (files.isEmpty() || same) { // the rows of the overlap have been staged already
          spool.clear();
          return result(Optional.empty(), false, reading.from(), startNanos);
        }
        complete(spool, files, reading.entry(start, depot.name(), by, host));
        return result(
            deliver(spool, spool.complete().orElseThrow()), false, reading.from(), startNanos);
      }
    } catch (IOException e) {
      throw Failure.of(
              Failure.Kind.UNEXPECTED, "Keeping the rows of source " + source.name() + " failed")
          .because(e.getMessage() + " in " + folder)
          .hint("Free space there and stage the source again; the high water is as it was")
          .from(e);
    }
  }

  /**
   * Whether a run was stopped between its entry in the ledger and the removal of its files. A feed
   * may have moved what it staged, so nothing of it is staged again.
   */
  private static boolean entered(SourceRun left, Optional<SourceRun> last) {
    return last.map(run -> run.manifest().equals(left.manifest())).orElse(false);
  }

  private static String fingerprint(List<SliceFiles.Done> files) {
    MessageDigest digest = Checksums.sha256();
    files.forEach(file -> digest.update(file.sha256().getBytes(StandardCharsets.US_ASCII)));
    return HexFormat.of().formatHex(digest.digest());
  }

  private SourceResult result(
      Optional<SourceRun> run, boolean continued, Optional<String> from, long startNanos) {
    return new SourceResult(
        source.name(), run, continued, from, Duration.ofNanos(System.nanoTime() - startNanos));
  }

  private void checkDepot(SourceRun left) {
    if (!left.depot().equals(depot.name())) {
      throw Failure.usage("Source " + source.name() + " cannot be staged into " + depot.name())
          .because("a run into depot %s was stopped before its end".formatted(left.depot()))
          .hint("Stage it into %s first, which completes that run".formatted(left.depot()));
    }
  }

  private void complete(SourceSpool spool, List<SliceFiles.Done> files, SourceRun run)
      throws IOException {
    long number = ledger.files(source.name());
    List<Manifest.Entry> entries = new ArrayList<>();
    long rows = 0;
    long bytes = 0;
    for (SliceFiles.Done file : files) {
      entries.add(
          new Manifest.Entry(
              source.as().path(run.startedAt(), ++number),
              true,
              Optional.of(file.size()),
              Optional.of(file.sha256()),
              Optional.of(file.rows()),
              file.totals()));
      rows += file.rows();
      bytes += file.size();
    }
    spool.complete(
        new SourceRun(
            run.source(),
            run.depot(),
            source.manifest().path(run.startedAt(), number),
            run.newer(),
            run.highWater(),
            run.shape(),
            fingerprint(files),
            files.size(),
            rows,
            bytes,
            run.startedAt(),
            run.stagedAt(),
            run.stagedBy(),
            run.host()),
        entries);
  }

  private Optional<SourceRun> deliver(SourceSpool spool, SourceSpool.Complete complete)
      throws IOException {
    stage(complete.files());
    stage(List.of(complete.manifest()));
    ledger.enter(complete.run());
    spool.clear();
    return Optional.of(complete.run());
  }

  private void stage(List<LocalFile> files) {
    StagePlan how = new StagePlan(false, plan.connections(), 0, false);
    StageResult result = new Stager(depot, how).run(files, listener);
    if (!result.whole()) {
      throw Failure.depot("Source %s was not staged as a whole".formatted(source.name()))
          .because("depot %s has other files under these names".formatted(depot.name()))
          .hint("Move those away and stage the source again; its rows are kept until then");
    }
  }
}
