package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.SQLException;
import java.util.List;

/** The change that several small files make to their landing table. */
final class JdbcGroupChange implements GroupChange {

  private final Database database;
  private final JdbcTransaction transaction;
  private final Landing landing;
  private final GroupRows rows;

  JdbcGroupChange(
      Database database,
      RowWriting writing,
      JdbcTransaction transaction,
      Landing landing,
      long load) {
    this.database = database;
    this.transaction = transaction;
    this.landing = landing;
    this.rows = writing.group(file -> new Posting(database, transaction, landing, load, file));
  }

  @Override
  public LandingChange of(long fileId) {
    return new Member(fileId);
  }

  @Override
  public boolean send() {
    try {
      return rows.send();
    } catch (SQLException e) {
      if (SqlFailures.conflict(e)) {
        database.undo(transaction.handle());
        return false; // the files are processed one by one
      }
      throw database.failures().of("Writing into " + landing.table().name(), e);
    }
  }

  /** The part of one file. */
  private final class Member implements LandingChange {

    private final long fileId;
    private boolean writing;

    Member(long fileId) {
      this.fileId = fileId;
    }

    @Override
    public RowWriter writer() {
      writing = true;
      return database.run(
          transaction.handle(), "Writing into " + landing.table().name(), h -> rows.file(fileId));
    }

    @Override
    public void undo() {
      database.run(
          transaction.handle(),
          "Undoing rows of " + landing.table().name(),
          h -> {
            if (writing) {
              rows.undoFile();
            }
            return null;
          });
    }

    @Override
    public void hold() {
      throw new IllegalStateException("repeats across files are detected file by file");
    }

    @Override
    public void rows(List<String> columns, LandedRows taker) {
      throw new IllegalStateException("repeats across files are detected file by file");
    }
  }
}
