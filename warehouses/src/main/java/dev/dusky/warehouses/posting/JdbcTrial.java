package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.Trial;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.Savepoint;
import org.jdbi.v3.core.Handle;

/** A transaction that is always rolled back. Its marks are savepoints. */
final class JdbcTrial implements Trial, JdbcTransaction {

  private record Saved(Savepoint savepoint) implements Mark {}

  private final Database database;
  private final Handle handle;
  private final boolean booked;

  JdbcTrial(Database database, Handle handle, boolean booked) {
    this.database = database;
    this.handle = handle;
    this.booked = booked;
  }

  @Override
  public Handle handle() {
    return handle;
  }

  @Override
  public boolean booked() {
    return booked;
  }

  @Override
  public Mark mark() {
    return database.runOrUndo(
        handle, "Starting a rehearsal", h -> new Saved(h.getConnection().setSavepoint()));
  }

  @Override
  public void undo(Mark mark) {
    database.run(
        handle,
        "Undoing a rehearsal",
        h -> {
          h.getConnection().rollback(((Saved) mark).savepoint());
          return null;
        });
  }

  @Override
  public void undoAll() {
    database.undo(handle);
  }

  @Override
  public void close() {
    database.release(handle);
  }
}
