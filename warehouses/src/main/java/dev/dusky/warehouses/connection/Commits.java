package dev.dusky.warehouses.connection;

import dev.dusky.core.usage.Meter;
import java.sql.SQLException;
import org.jdbi.v3.core.Handle;

/** Commits whose time is counted as time of the database. */
public final class Commits {

  private Commits() {}

  /** Commits the transaction of a connection. */
  public static void of(Handle handle) throws SQLException {
    Meter.waiting(
        () -> {
          handle.getConnection().commit();
          return null;
        });
  }
}
