package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.ReplaceClaim;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.Transaction;
import dev.dusky.warehouses.connection.Commits;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** Row locks on all files of a load that replaces what its table holds. */
final class JdbcReplaceClaim implements ReplaceClaim {

  /** The outcome of one file, with its own copy of the rejects. */
  private record Settled(FileLocks.Held entry, String path, FileOutcome outcome, RejectSpool own) {}

  private final Database database;
  private final Handle handle;
  private final JdbcRunningLoad load;
  private final FileLocks locks;
  private final List<StagedFile> files;
  private final List<Optional<FileEntry>> known;
  private final List<Settled> settled = new ArrayList<>();
  private final Map<String, FileEntry> contents = new HashMap<>();

  JdbcReplaceClaim(
      Database database,
      Handle handle,
      JdbcRunningLoad load,
      List<StagedFile> files,
      List<Optional<FileEntry>> known) {
    this.database = database;
    this.handle = handle;
    this.load = load;
    this.files = files;
    this.known = known;
    this.locks = new FileLocks(handle, database.dialect(), load.feed().name());
  }

  /** Enters and locks the files; false if another load holds one of them. */
  boolean take() throws SQLException {
    boolean all = locks.take(files, known) && all();
    if (!all) {
      handle.getConnection().rollback();
    }
    return all;
  }

  private boolean all() {
    return files.stream().allMatch(file -> locks.of(file.path()).isPresent());
  }

  @Override
  public Transaction transaction() {
    return JdbcTransaction.of(handle);
  }

  @Override
  public List<PostedRows> inForce() {
    return database.run(
        handle,
        "Reading what is posted of feed " + load.feed().name(),
        h -> Reversal.inForce(h, "f.feed = :feed", Map.of("feed", load.feed().name())));
  }

  @Override
  public void replaced(List<PostedRows> postings, long rows) {
    if (rows == 0 && postings.isEmpty()) {
      return;
    }
    database.run(
        handle,
        "Entering what load " + load.id() + " replaces",
        h -> {
          new Replacements(h).enter(load.id(), load.start(), load.feed().into(), postings, rows);
          return null;
        });
  }

  @Override
  public FileClaim of(StagedFile file) {
    FileLocks.Held held = locks.of(file.path()).orElseThrow();
    Savepoint before =
        database.run(
            handle, "Beginning with " + file.path(), h -> h.getConnection().setSavepoint());
    return new Member(file, held, before);
  }

  @Override
  public void undo() {
    forget();
    database.run(
        handle,
        "Undoing what load " + load.id() + " replaced",
        h -> {
          h.getConnection().rollback();
          return null;
        });
  }

  @Override
  public boolean renew() {
    return database.run(
        handle,
        "Claiming the files of feed " + load.feed().name(),
        h -> {
          locks.lock(files, known);
          return all();
        });
  }

  @Override
  public void post() {
    database.run(
        handle,
        "Posting the files of load " + load.id(),
        h -> {
          enter(settled);
          Commits.of(h);
          return null;
        });
  }

  @Override
  public void refuse(String why) {
    database.run(
        handle,
        "Refusing the files of load " + load.id(),
        h -> {
          h.getConnection().rollback();
          locks.lock(files, known);
          List<Settled> refused = new ArrayList<>();
          for (Settled file : settled) {
            if (locks.of(file.path()).isPresent()) {
              refused.add(refused(file, why));
            }
          }
          enter(refused);
          Commits.of(h);
          return null;
        });
  }

  private static Settled refused(Settled file, String why) {
    FileOutcome outcome =
        file.outcome().state() == FileState.REFUSED
            ? file.outcome()
            : file.outcome().refusedFor(why);
    return new Settled(file.entry(), file.path(), outcome, file.own());
  }

  private void enter(List<Settled> all) throws SQLException {
    FileRows rows = new FileRows(handle, database.dialect(), load);
    for (Settled file : all) {
      file.entry().state().checkNext(file.outcome().state());
      rows.add(file.entry().fileId(), file.outcome());
    }
    rows.flush();
    for (Settled file : all) {
      RejectRows.replace(handle.getConnection(), load.id(), file.entry().fileId(), file.own());
      if (file.outcome().state().settled()) {
        DueRows.enter(
            handle,
            file.entry().fileId(),
            file.path(),
            load.feed().policies().arrivals().afterwards());
      }
    }
  }

  private void forget() {
    for (Settled file : settled) {
      file.own().close();
      if (file.outcome().repeats().left() != null) {
        file.outcome().repeats().left().close();
      }
    }
    settled.clear();
    contents.clear();
  }

  @Override
  public void close() {
    forget();
    database.undo(handle);
    load.giveBack(handle);
  }

  /** The claim on one of the files. */
  private final class Member implements FileClaim {

    private final StagedFile file;
    private final FileLocks.Held entry;
    private final Savepoint before;

    Member(StagedFile file, FileLocks.Held entry, Savepoint before) {
      this.file = file;
      this.entry = entry;
      this.before = before;
    }

    @Override
    public long fileId() {
      return entry.fileId();
    }

    @Override
    public Transaction transaction() {
      return JdbcReplaceClaim.this.transaction();
    }

    @Override
    public void withdraw(String why, RowRemoval removal) {
      throw new IllegalStateException("what is replaced is taken out before the files are read");
    }

    @Override
    public String landedMark() {
      throw new IllegalStateException("a table that is replaced has no rows to compare with");
    }

    /** Twins are recognised among files of the same slice: what was there before is replaced. */
    @Override
    public Optional<FileEntry> twinOf(String fingerprint) {
      return Optional.ofNullable(contents.get(content(fingerprint)));
    }

    private String content(String fingerprint) {
      return fingerprint
          + load.feed().policies().replacing().slice(load.feed().files(), file.path());
    }

    @Override
    public boolean renew() {
      return database.run(
          handle,
          "Undoing the rows of " + file.path(),
          h -> {
            h.getConnection().rollback(before);
            return true;
          });
    }

    @Override
    public void settle(FileOutcome outcome, RejectSpool rejects) {
      RejectSpool own = new RejectSpool();
      rejects.forEach(own::add);
      settled.add(new Settled(entry, file.path(), outcome.taken(), own));
      if (outcome.state() == FileState.POSTED) {
        outcome
            .fingerprint()
            .ifPresent(
                print -> contents.putIfAbsent(content(print), entry.posted(file, load.id())));
      }
    }

    /** Its outcome is entered with those of the others. */
    @Override
    public void close() {}
  }
}
