package dev.dusky.warehouses.ledger;

import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.FeedColumns;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.Journal;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.ledger.SourceRuns;
import dev.dusky.core.table.TableName;
import dev.dusky.warehouses.connection.Database;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** The ledger in the schema {@code dusky} of a database. */
public final class JdbcLedger implements Ledger {

  private static final TableName FILES = new TableName("dusky", "file");

  /**
   * States of a session that may read only: a missing right, and a server that takes no changes.
   */
  private static final Set<String> READ_ONLY = Set.of("42501", "25006");

  private static final String RUNNING =
      "select load_id from dusky.load where state = 'running' order by load_id ";

  private final Database database;

  /** The ledger of that database. */
  public JdbcLedger(Database database) {
    this.database = database;
  }

  @Override
  public void prepare() {
    database.transact(
        "Making the ledger's tables",
        h -> {
          new Migrations(database.dialect()).apply(h.getConnection());
          return null;
        });
  }

  @Override
  public boolean exists() {
    return database.transact(
        "Looking for the ledger", h -> database.dialect().exists(h.getConnection(), FILES));
  }

  @Override
  public List<Long> closeInterrupted() {
    return database.transact(
        "Looking for interrupted loads",
        h -> {
          if (h.createQuery(RUNNING).mapTo(Long.class).list().isEmpty()) {
            return List.of();
          }
          List<Long> dead = new ArrayList<>();
          String find = RUNNING + database.dialect().claimClause();
          try {
            database
                .dialect()
                .alone(
                    h.getConnection(),
                    () -> dead.addAll(h.createQuery(find).mapTo(Long.class).list()));
          } catch (SQLException | JdbiException e) {
            if (!READ_ONLY.contains(Database.state(e))) {
              throw e;
            }
            h.getConnection().rollback(); // a session that may read only leaves that to others
            return List.of();
          }
          for (long load : dead) {
            LoadRows.end(h, load, LoadState.INTERRUPTED, "its process ended without finishing it");
          }
          return dead;
        });
  }

  @Override
  public RunningLoad begin(LoadStart start, Feed feed) {
    Handle own = database.connect();
    long load =
        database.runOrUndo(
            own,
            "Opening a load of feed " + start.feed(),
            h -> {
              long[] id = new long[1];
              database
                  .dialect()
                  .alone(
                      h.getConnection(),
                      () -> {
                        id[0] = LoadRows.insert(h, start);
                        h.getConnection().commit();
                        if (!LoadRows.lock(h, database.dialect(), id[0])) {
                          throw new SQLException(
                              "another session closed load %d immediately".formatted(id[0]));
                        }
                      });
              return id[0];
            });
    return new JdbcRunningLoad(database, own, load, start, feed);
  }

  @Override
  public List<FileEntry> filesFrom(String feed, String path, int most) {
    return database.transact(
        "Looking up files",
        h ->
            FileEntryRows.from(
                h,
                feed,
                path,
                database.dialect().pathFrom(),
                database.dialect().pathOrder(),
                most));
  }

  @Override
  public List<Volume> volumes(String feed, int most) {
    return database.transact(
        "Reading the volumes of feed " + feed, h -> VolumeRows.last(h, feed, most));
  }

  @Override
  public Optional<FileEntry> twin(String feed, String fingerprint) {
    return database.transact("Looking for twins", h -> FileEntryRows.twin(h, feed, fingerprint, 0));
  }

  @Override
  public List<PostedRows> inForce(String feed, String path) {
    return database.transact(
        "Looking for what is posted of " + path, h -> Reversal.inForceOf(h, feed, path));
  }

  @Override
  public List<PostedRows> inForce(String feed) {
    return database.transact(
        "Reading what is posted of feed " + feed,
        h -> Reversal.inForce(h, "f.feed = :feed", Map.of("feed", feed)));
  }

  @Override
  public List<GrownColumn> grown(String feed) {
    return database.transact(
        "Reading the columns of feed " + feed, h -> FeedColumnRows.read(h, feed));
  }

  @Override
  public <T> T changeColumns(String feed, Function<FeedColumns, T> work) {
    return new FeedColumnRows(database, feed).change(work);
  }

  @Override
  public List<DueFile> due(String feed) {
    return new DueRows(database).of(feed);
  }

  @Override
  public void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    new DueRows(database).settle(files, work);
  }

  @Override
  public Optional<String> pause(String feed) {
    return feeds().pause(feed).map(Pause::toString);
  }

  @Override
  public Journal journal() {
    return new JdbcJournal(database);
  }

  @Override
  public RejectEntries rejects() {
    return new JdbcRejectEntries(database);
  }

  @Override
  public SourceRuns sources() {
    return new JdbcSourceRuns(database);
  }

  @Override
  public FeedEntries feeds() {
    return new JdbcFeedEntries(database);
  }
}
