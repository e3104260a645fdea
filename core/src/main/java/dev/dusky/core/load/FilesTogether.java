package dev.dusky.core.load;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Deals with a load's files in turn, small ones together in shared transactions. While one group is
 * posted the next one is read. What cannot be done together is done one by one.
 */
final class FilesTogether implements AutoCloseable {

  /** A group that is being posted. */
  private static final class Posting {
    private final List<KnownFile> files;
    private final List<FileResult> results;
    private final GroupClaim claim;
    private final Worker worker;
    private boolean posted;
    private Throwable failure;

    Posting(List<KnownFile> files, List<FileResult> results, GroupClaim claim) {
      this.files = files;
      this.results = results;
      this.claim = claim;
      this.worker = new Worker("dusky-post", this::post);
      worker.start();
    }

    private void post() {
      try {
        posted = claim.post();
      } catch (Throwable e) { // whatever it is, it must reach the thread that runs the load
        failure = e;
      }
    }

    /** Waits for the end; true if it was posted. */
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

    Tally tally() {
      return results.stream()
          .filter(result -> result.state() != FileState.REFUSED)
          .map(FileResult::tally)
          .reduce(Tally.NONE, Tally::plus);
    }
  }

  private final FeedLoader loader;
  private final LoadRun run;
  private final LoadStart start;
  private final RunningLoad load;
  private final FileGroup group;
  private final Optional<FilesAtOnce> beside;
  private final RecordBatch batch = FileGroup.batch();
  private Posting posting;

  FilesTogether(FeedLoader loader, LoadRun run, LoadStart start, RunningLoad load) {
    this.loader = loader;
    this.run = run;
    this.start = start;
    this.load = load;
    this.group = new FileGroup(run, run.feed());
    int atOnce = loader.atOnce(load);
    this.beside =
        atOnce == 1
            ? Optional.empty()
            : Optional.of(
                new FilesAtOnce(
                    atOnce,
                    (known, others) -> loader.deal(start, load, known, others),
                    () -> loader.memory(atOnce),
                    loader::add));
  }

  /** Deals with a file, at once or together with others that follow. */
  void deal(KnownFile known) {
    if (group.suits(known)) {
      group.add(known);
      if (group.full()) {
        dealTogether();
      }
    } else {
      dealTogether();
      settle();
      dealAlone(known);
    }
  }

  /** Deals with all that is still to be dealt with. */
  void finish() {
    dealTogether();
    settle();
    beside.ifPresent(FilesAtOnce::finish);
  }

  private void dealTogether() {
    List<KnownFile> files = group.take();
    boolean few = files.size() < FileGroup.LEAST;
    if (!few) {
      beside.ifPresent(FilesAtOnce::finish); // they come before those of the group
    }
    Optional<Posting> next = few ? Optional.empty() : read(files);
    settle();
    if (next.isPresent()) {
      posting = next.get();
    } else if (few && beside.map(FilesAtOnce::idle).orElse(true)) {
      files.forEach(
          known -> loader.add(loader.deal(start, load, known))); // no threads for so little
    } else {
      files.forEach(this::dealAlone);
    }
  }

  /** Deals with a file by itself, beside others if that can be. */
  private void dealAlone(KnownFile known) {
    if (beside.isPresent()) {
      beside.get().deal(known);
    } else {
      loader.add(loader.deal(start, load, known));
    }
  }

  /** Waits for the group that is being posted. */
  private void settle() {
    if (posting == null) {
      return;
    }
    Posting done = posting;
    posting = null;
    if (done.join()) {
      done.results.forEach(loader::add);
    } else {
      done.files.forEach(this::dealAlone);
    }
  }

  /** Reads files and starts posting them behind those before; nothing if that cannot be. */
  private Optional<Posting> read(List<KnownFile> files) {
    List<StagedFile> staged = files.stream().map(KnownFile::file).toList();
    Optional<GroupClaim> held =
        load.claimTogether(staged, files.stream().map(KnownFile::entry).toList());
    if (held.isEmpty()) {
      return Optional.empty();
    }
    GroupClaim claim = held.get();
    boolean read = false;
    List<FileResult> results = new ArrayList<>();
    try (PrefetchedFiles fetched = new PrefetchedFiles(run.depot(), staged)) {
      Tally before = posting == null ? loader.tally() : loader.tally().plus(posting.tally());
      for (StagedFile file : staged) {
        FileResult result = read(claim, fetched, file, before);
        results.add(result);
        before = result.state() == FileState.REFUSED ? before : before.plus(result.tally());
      }
      read = true;
    } catch (FileDrift.Growing | FileRepeats.Full | FileRepeats.Again alone) {
      return Optional.empty();
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.DEPOT) {
        throw failure;
      }
      return Optional.empty(); // met again one by one, where it is told
    } finally {
      if (!read) {
        claim.close();
      }
    }
    if (posting != null) {
      posting.worker.join(); // twins among them are told by what is posted
    }
    return Optional.of(new Posting(files, results, claim));
  }

  private FileResult read(GroupClaim group, Depot fetched, StagedFile file, Tally before) {
    Optional<FileClaim> held = group.of(file);
    if (held.isEmpty()) {
      return FileResult.passed(file, FileState.WAITING, Duration.ZERO, "claimed by another load");
    }
    try (FileClaim claim = held.get()) {
      run.listener().started(file);
      FileFacts facts = FileFacts.of(run.feed().files(), file, load.id(), start.at());
      return loader.inline(file, facts, claim, before, fetched, batch).run();
    }
  }

  /** Waits for what is still being posted, so that nothing goes on behind a load that failed. */
  @Override
  public void close() {
    beside.ifPresent(FilesAtOnce::close);
    if (posting == null) {
      return;
    }
    Posting last = posting;
    posting = null;
    if (last.join()) {
      last.results.forEach(loader::add);
    }
  }
}
