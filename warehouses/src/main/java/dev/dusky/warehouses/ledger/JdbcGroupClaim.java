package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.Transaction;
import dev.dusky.warehouses.connection.Commits;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** Row locks on several small files, whose rows and outcomes commit together. */
final class JdbcGroupClaim implements GroupClaim {

  private final Database database;
  private final Handle handle;
  private final JdbcRunningLoad load;
  private final Feed feed;
  private final FileLocks locks;
  private final Map<String, FileEntry> posted = new HashMap<>();
  private final FileRows outcomes;
  private boolean broken;

  JdbcGroupClaim(Database database, Handle handle, JdbcRunningLoad load) {
    this.database = database;
    this.handle = handle;
    this.load = load;
    this.feed = load.feed();
    this.locks = new FileLocks(handle, database.dialect(), feed.name());
    this.outcomes = new FileRows(handle, database.dialect(), load);
  }

  /** Enters and locks the files; false if another load enters one of them at this moment. */
  boolean take(List<StagedFile> files, List<Optional<FileEntry>> known) throws SQLException {
    return locks.take(files, known);
  }

  @Override
  public Transaction transaction() {
    return JdbcTransaction.of(handle);
  }

  @Override
  public Optional<FileClaim> of(StagedFile file) {
    return locks.of(file.path()).map(h -> new Member(file, h));
  }

  @Override
  public boolean post() {
    try {
      if (broken || anyTwin()) {
        handle.getConnection().rollback();
        return false;
      }
      outcomes.flush();
      Commits.of(handle);
      return true;
    } catch (SQLException | JdbiException e) {
      SQLException cause = Database.sqlException(e);
      if (SqlFailures.conflict(cause)) {
        database.undo(handle);
        return false; // they are processed one by one
      }
      throw database.failures().of("Posting small files of feed " + feed.name(), cause);
    }
  }

  /** Whether the content of one of them was posted before. */
  private boolean anyTwin() throws SQLException {
    if (posted.isEmpty()) {
      return false;
    }
    database.dialect().holdContents(handle.getConnection(), feed.name());
    return handle
        .createQuery(
            "select 1 from dusky.file where feed = :feed and state = 'posted'"
                + " and fingerprint = any(:prints)")
        .bind("feed", feed.name())
        .bindArray("prints", String.class, posted.keySet())
        .mapTo(Integer.class)
        .findFirst()
        .isPresent();
  }

  @Override
  public void close() {
    outcomes.close();
    database.undo(handle);
  }

  /** The claim on one of the files. */
  private final class Member implements FileClaim {
    private final StagedFile file;
    private final FileLocks.Held entry;
    private boolean settled;

    Member(StagedFile file, FileLocks.Held entry) {
      this.file = file;
      this.entry = entry;
    }

    @Override
    public long fileId() {
      return entry.fileId();
    }

    @Override
    public Transaction transaction() {
      return JdbcGroupClaim.this.transaction();
    }

    @Override
    public void withdraw(String why, RowRemoval removal) {
      throw new IllegalStateException("small files that replace others are processed alone");
    }

    @Override
    public String landedMark() {
      throw new IllegalStateException("repeats across files are detected file by file");
    }

    @Override
    public Optional<FileEntry> twinOf(String fingerprint) {
      return Optional.ofNullable(posted.get(fingerprint));
    }

    /** The others' entries and rows stay, and this one has entered nothing yet. */
    @Override
    public boolean renew() {
      return true;
    }

    @Override
    public void settle(FileOutcome outcome, RejectSpool rejects) {
      entry.state().checkNext(outcome.state());
      database.run(
          handle,
          "Posting " + file.path(),
          h -> {
            if (rejects.count() > 0 || entry.state() != FileState.WAITING) {
              RejectRows.replace(h.getConnection(), load.id(), entry.fileId(), rejects);
            }
            if (outcome.state().settled()) {
              DueRows.enter(
                  h, entry.fileId(), file.path(), feed.policies().arrivals().afterwards());
            }
            return null;
          });
      if (outcome.state() == FileState.POSTED) {
        outcome
            .fingerprint()
            .ifPresent(print -> posted.putIfAbsent(print, entry.posted(file, load.id())));
      }
      outcomes.add(entry.fileId(), outcome.taken());
      settled = true;
    }

    @Override
    public void close() {
      broken |= !settled;
    }
  }
}
