package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.Transaction;
import dev.dusky.warehouses.connection.Commits;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** The claim on one file: a row lock in {@code dusky.file} that dies with its connection. */
final class JdbcFileClaim implements FileClaim {

  private static final String ENTER =
      """
      insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)
      select cast(:feed as varchar(200)), cast(:path as varchar(1100)),
             cast(:version as varchar(200)), 'waiting', cast(:size as bigint),
             cast(:modified as timestamp with time zone), cast(:now as timestamp with time zone)
      where not exists
        (select 1 from dusky.file where feed = :feed and path = :path and version = :version)""";

  private static final String LOCK =
      """
      select file_id, state, load_id, (select max(t.load_id) from dusky.tally t
        where t.file_id = f.file_id and t.reversed_by is null
          and t.state in ('posted', 'twin')) as live
      from dusky.file f where feed = :feed and path = :path and version = :version\s""";

  /** The entry when it was locked. */
  private record Locked(long fileId, FileState state, Optional<Long> load, long live) {}

  private final Database database;
  private final Handle handle;
  private final JdbcRunningLoad load;
  private final StagedFile file;
  private long fileId;
  private FileState state;
  private boolean again;
  private Optional<Long> lastLoad = Optional.empty();

  JdbcFileClaim(Database database, Handle handle, JdbcRunningLoad load, StagedFile file) {
    this.database = database;
    this.handle = handle;
    this.load = load;
    this.file = file;
  }

  /**
   * Enters the file if need be and locks its entry; false if another load holds or has settled it.
   *
   * @param seen the load that last processed it, as far as the caller knows
   * @param settledToo whether it may be settled, and by any load
   */
  boolean take(Optional<Long> seen, boolean settledToo) throws SQLException {
    again = settledToo;
    lastLoad = seen;
    enter();
    return lock();
  }

  private void enter() throws SQLException {
    try {
      handle
          .createUpdate(ENTER)
          .bind("feed", load.feed().name())
          .bind("path", file.path())
          .bind("version", file.version())
          .bind("size", file.size())
          .bind("modified", file.modified())
          .bind("now", Instant.now())
          .execute();
      Commits.of(handle);
    } catch (JdbiException e) {
      handle.getConnection().rollback();
      if (!"23505".equals(Database.state(e))) {
        throw e;
      }
      // Another load entered it at the same moment: the entry exists, which is all that is needed.
    }
  }

  private boolean lock() throws SQLException {
    Optional<Locked> locked =
        handle
            .createQuery(LOCK + database.dialect().claimClause())
            .bind("feed", load.feed().name())
            .bind("path", file.path())
            .bind("version", file.version())
            .map(
                (row, context) ->
                    new Locked(
                        row.getLong("file_id"),
                        FileState.of(row.getString("state")),
                        Optional.ofNullable(row.getObject("load_id", Long.class)),
                        row.getLong("live")))
            .findFirst();
    if (locked.isPresent()) {
      fileId = locked.get().fileId();
      state = locked.get().state();
      if (locked.get().live() > 0 && !state.settled() && !again) {
        throw postedAlready(locked.get().live());
      }
      if (again || !state.settled() && locked.get().load().equals(lastLoad)) {
        return true;
      }
    }
    handle.getConnection().rollback();
    return false;
  }

  /** The ledger contradicts itself about the file. */
  private Failure postedAlready(long live) {
    return Failure.of(Failure.Kind.LEDGER, "The ledger contradicts itself about " + file.path())
        .because(
            "dusky.file says that it is %s, but load %d has posted it"
                .formatted(state.label(), live))
        .hint(
            "Nothing of it was loaded. Run {}; to load it again on purpose, use {}",
            Invocation.of("balance"),
            Invocation.of("load", "--again"));
  }

  @Override
  public long fileId() {
    return fileId;
  }

  @Override
  public Transaction transaction() {
    return JdbcTransaction.of(handle);
  }

  @Override
  public void withdraw(String why, RowRemoval removal) {
    database.run(
        handle,
        "Removing the rows of " + file.path(),
        h -> {
          boolean reversed = new Reversal(h, load.start(), removal).path(file.path(), why);
          if (reversed && state.settled()) {
            state = FileState.REVERSED;
          }
          return null;
        });
  }

  @Override
  public String landedMark() {
    return database.run(
        handle,
        "Reading what was posted into " + load.feed().into(),
        h ->
            h.createQuery(
                    "select count(*) as n, coalesce(max(t.load_id), 0) as latest,"
                        + " count(t.reversed_by) as reversed from dusky.tally t"
                        + " join dusky.load l on l.load_id = t.load_id"
                        + " where l.into_table = :into and t.load_id <> :load")
                .bind("into", load.feed().into().toString())
                .bind("load", load.id())
                .map(
                    (row, context) ->
                        row.getLong("n")
                            + " "
                            + row.getLong("latest")
                            + " "
                            + row.getLong("reversed"))
                .one());
  }

  @Override
  public Optional<FileEntry> twinOf(String fingerprint) {
    return database.run(
        handle,
        "Looking for twins of " + file.path(),
        h -> {
          database.dialect().holdContents(h.getConnection(), load.feed().name());
          return FileEntryRows.twin(h, load.feed().name(), fingerprint, fileId);
        });
  }

  @Override
  public boolean renew() {
    return database.run(
        handle,
        "Undoing the rows of " + file.path(),
        h -> {
          h.getConnection().rollback();
          return lock();
        });
  }

  @Override
  public void settle(FileOutcome outcome, RejectSpool rejects) {
    state.checkNext(outcome.state());
    database.run(
        handle,
        "Posting " + file.path(),
        h -> {
          FileRows rows = new FileRows(h, database.dialect(), load);
          rows.add(fileId, outcome);
          rows.flush();
          RejectRows.replace(h.getConnection(), load.id(), fileId, rejects);
          if (outcome.state().settled()) {
            DueRows.enter(h, fileId, file.path(), load.feed().policies().arrivals().afterwards());
          }
          Commits.of(h);
          return null;
        });
  }

  @Override
  public void close() {
    database.undo(handle);
    load.giveBack(handle);
  }
}
