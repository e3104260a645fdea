package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.ReplaceClaim;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.usage.Usage;
import dev.dusky.warehouses.connection.Database;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/**
 * A running load. One connection holds the lock on the load's entry and nothing else; others carry
 * the files' transactions, as many as are claimed at the same time. Groups of small files use two
 * connections in turn, so that one group is read while another is posted.
 */
final class JdbcRunningLoad implements RunningLoad {

  private final Database database;
  private final Handle lock;
  private final List<Handle> opened = new ArrayList<>();
  private final Deque<Handle> free = new ArrayDeque<>();
  private final long id;
  private final LoadStart start;
  private final Feed feed;
  private final Handle[] together = new Handle[2];
  private int turn;
  private LoadState state = LoadState.RUNNING;

  JdbcRunningLoad(Database database, Handle lock, long id, LoadStart start, Feed feed) {
    this.database = database;
    this.lock = lock;
    this.id = id;
    this.start = start;
    this.feed = feed;
  }

  /** The entry at its start. */
  LoadStart start() {
    return start;
  }

  /** The feed as it was then. */
  Feed feed() {
    return feed;
  }

  @Override
  public long id() {
    return id;
  }

  @Override
  public Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known) {
    return claim(file, known.flatMap(FileEntry::loadId), false);
  }

  @Override
  public Optional<FileClaim> claimAgain(StagedFile file) {
    return claim(file, Optional.empty(), true);
  }

  private Optional<FileClaim> claim(StagedFile file, Optional<Long> lastLoad, boolean again) {
    Handle own = take();
    try {
      JdbcFileClaim claim = new JdbcFileClaim(database, own, this, file);
      boolean taken =
          database.runOrUndo(own, "Claiming " + file.path(), h -> claim.take(lastLoad, again));
      if (taken) {
        return Optional.of(claim);
      }
    } catch (Failure failure) {
      giveBack(own);
      throw failure;
    }
    giveBack(own);
    return Optional.empty();
  }

  @Override
  public Optional<GroupClaim> claimTogether(
      List<StagedFile> files, List<Optional<FileEntry>> known) {
    turn = 1 - turn;
    if (together[turn] == null) {
      together[turn] = database.connect();
    }
    JdbcGroupClaim claim = new JdbcGroupClaim(database, together[turn], this);
    boolean taken =
        database.runOrUndo(
            together[turn],
            "Claiming small files of feed " + feed.name(),
            h -> claim.take(files, known));
    return taken ? Optional.of(claim) : Optional.empty();
  }

  @Override
  public Optional<ReplaceClaim> claimReplacing(
      List<StagedFile> files, List<Optional<FileEntry>> known) {
    Handle own = take();
    JdbcReplaceClaim claim = new JdbcReplaceClaim(database, own, this, files, known);
    try {
      if (database.runOrUndo(own, "Claiming the files of feed " + feed.name(), h -> claim.take())) {
        return Optional.of(claim);
      }
    } catch (Failure failure) {
      giveBack(own);
      throw failure;
    }
    giveBack(own);
    return Optional.empty();
  }

  @Override
  public RejectClaim claimRejects(StoredReject any, Collection<Long> rejects) {
    Handle own = take();
    try {
      JdbcRejectClaim claim = new JdbcRejectClaim(database, own, this, any);
      return database.runOrUndo(
          own,
          "Claiming rejects of " + any.file().path(),
          h -> {
            claim.take(rejects);
            return claim;
          });
    } catch (Failure failure) {
      giveBack(own);
      throw failure;
    }
  }

  /** A connection for one file's transaction. */
  private synchronized Handle take() {
    if (free.isEmpty()) {
      Handle made = database.connect();
      opened.add(made);
      return made;
    }
    return free.pop();
  }

  /** Takes back a connection on which no transaction is open. */
  synchronized void giveBack(Handle handle) {
    free.push(handle);
  }

  @Override
  public void finish(LoadState next, String message, Usage usage) {
    if (!next.mayFollow(state)) {
      throw new IllegalStateException(
          "a load that is " + state.label() + " cannot become " + next.label());
    }
    database.run(
        lock,
        "Closing load " + id,
        h -> {
          LoadRows.end(h, id, next, message);
          UsageRows.load(h, id, usage);
          h.getConnection().commit();
          return null;
        });
    state = next;
  }

  @Override
  public void close() {
    opened.forEach(database::release);
    for (Handle handle : together) {
      if (handle != null) {
        database.release(handle);
      }
    }
    database.release(lock);
  }
}
