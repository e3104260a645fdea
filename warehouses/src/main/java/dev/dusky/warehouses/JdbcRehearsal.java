package dev.dusky.warehouses;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.RejectTaker;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Books that are only rehearsed. Rows are written into the landing table, so that the table itself
 * judges them, in one transaction for all files that is rolled back in the end; the ledger is read
 * if it is there, and never written. Rows for a table that is still to be made, or that this user
 * may not write into, go nowhere.
 */
final class JdbcRehearsal implements Ledger {

  private static final TableName FILES = new TableName("dusky", "file");

  private final JdbcWarehouse warehouse;
  private final RejectTaker taker;
  private final boolean booked;
  private final List<GrownColumn> planned = new ArrayList<>();
  private boolean missing;
  private boolean judged = true;

  JdbcRehearsal(JdbcWarehouse warehouse, RejectTaker taker) {
    this.warehouse = warehouse;
    this.taker = taker;
    this.booked = warehouse.shape(FILES).isPresent();
  }

  @Override
  public void prepare() {
    // Nothing is written, and without a ledger everything is waiting.
  }

  @Override
  public List<Long> closeInterrupted() {
    return List.of();
  }

  @Override
  public Optional<TableShape> landing(Feed feed) {
    Optional<TableShape> existing = warehouse.shape(feed.into());
    missing = existing.isEmpty() && feed.create();
    judged = existing.isPresent() && warehouse.judges(feed.into());
    return missing ? Optional.of(planned(feed)) : existing;
  }

  /** The table that a load would make. */
  private static TableShape planned(Feed feed) {
    List<TableColumn> columns = new ArrayList<>();
    for (FeedColumn column : feed.columns()) {
      columns.add(
          new TableColumn(
              column.name(),
              Optional.of(column.type()),
              column.type().toString(),
              column.notNull(),
              false));
    }
    for (String name : Provenance.COLUMNS) {
      columns.add(
          new TableColumn(name, Optional.of(SqlType.of(TypeKind.BIGINT)), "bigint", true, false));
    }
    return new TableShape(feed.into(), columns);
  }

  @Override
  public RunningLoad begin(LoadStart start, Feed feed, TableShape table) {
    return new Rehearsed(start, feed, table);
  }

  @Override
  public List<FileEntry> filesFrom(String feed, String path, int most) {
    return booked ? warehouse.ledger().filesFrom(feed, path, most) : List.of();
  }

  @Override
  public List<GrownColumn> grown(String feed) {
    List<GrownColumn> all =
        new ArrayList<>(booked ? warehouse.ledger().grown(feed) : List.<GrownColumn>of());
    all.addAll(planned);
    return all;
  }

  @Override
  public List<DueFile> due(String feed) {
    return List.of();
  }

  @Override
  public void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    // A rehearsal posts nothing.
  }

  @Override
  public Optional<String> pause(String feed) {
    return Optional.empty();
  }

  /** The load that is rolled back. */
  private final class Rehearsed implements RunningLoad {

    private final LoadStart start;
    private Feed feed;
    private TableShape table;
    private boolean grown;
    private final Connection connection = warehouse.connect();
    private final Map<String, FileEntry> posted = new HashMap<>();
    private long files;

    Rehearsed(LoadStart start, Feed feed, TableShape table) {
      this.start = start;
      this.feed = feed;
      this.table = table;
    }

    @Override
    public long id() {
      return 0;
    }

    @Override
    public Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known) {
      try {
        return Optional.of(new Claim(file, --files, connection.setSavepoint()));
      } catch (SQLException e) {
        throw warehouse.failed(connection, "Rehearsing " + file.path(), e);
      }
    }

    @Override
    public Optional<FileClaim> claimAgain(StagedFile file) {
      return claim(file, Optional.empty());
    }

    /** The table itself stays as it is, so it is no judge of rows from now on. */
    @Override
    public Growth.Result grow(FileClaim claim, Growth growth) {
      planned.addAll(growth.columns());
      grown = true;
      feed = feed.grown(growth.columns());
      table = planned(feed);
      return new Growth.Result(feed, table, new TableGrowth(warehouse).planned(feed, growth));
    }

    @Override
    public RejectClaim claimRejects(StoredReject any, Collection<Long> rejects) {
      throw new IllegalStateException("mending is not rehearsed");
    }

    @Override
    public void finish(LoadState state, String message) {
      // Nothing is written down.
    }

    @Override
    public void close() {
      warehouse.release(connection);
    }

    /** A file whose rows stay until the end, so that later files meet them. */
    private final class Claim implements FileClaim {

      private final StagedFile file;
      private final long number;
      private final Savepoint before;
      private boolean settled;

      Claim(StagedFile file, long number, Savepoint before) {
        this.file = file;
        this.number = number;
        this.before = before;
      }

      @Override
      public long fileId() {
        return number;
      }

      @Override
      public RowWriter writer() {
        if (!judged || grown) {
          return new CountingWriter();
        }
        return warehouse.writer(connection, feed, table, 0, number, booked);
      }

      @Override
      public void withdraw(String why) {
        try {
          if (judged) {
            new Reversal(connection, start, table).path(file.path(), why);
          }
        } catch (SQLException e) {
          throw warehouse.failures().of("Taking out the rows of " + file.path(), e);
        }
      }

      @Override
      public String landedMark() {
        return booked ? LandedReader.mark(warehouse, connection, feed, 0) : "";
      }

      @Override
      public void landedRows(List<String> columns, LandedRows taker) {
        if (!missing) {
          LandedReader.read(warehouse, connection, feed, columns, taker);
        }
      }

      @Override
      public Optional<FileEntry> twinOf(String fingerprint) {
        Optional<FileEntry> earlier = Optional.ofNullable(posted.get(fingerprint));
        return earlier.isPresent() || !booked
            ? earlier
            : warehouse.transact(
                "Looking for twins of " + file.path(),
                c -> JdbcFileClaim.twinOf(c, feed.name(), fingerprint, number));
      }

      @Override
      public boolean undoRows() {
        try {
          connection.rollback(before);
          return true;
        } catch (SQLException e) {
          throw warehouse.failures().of("Undoing the rows of " + file.path(), e);
        }
      }

      @Override
      public void settle(FileOutcome outcome, RejectSpool rejects) {
        settled = true;
        if (outcome.state() == FileState.POSTED) {
          outcome
              .fingerprint()
              .ifPresent(
                  hash ->
                      posted.put(
                          hash,
                          new FileEntry(
                              number,
                              file.path(),
                              file.version(),
                              FileState.POSTED,
                              Optional.of(0L),
                              Optional.empty(),
                              Optional.empty())));
        }
        taker.take(file, outcome, rejects);
      }

      @Override
      public void close() {
        if (!settled) {
          warehouse.undo(connection);
        }
      }
    }
  }
}
