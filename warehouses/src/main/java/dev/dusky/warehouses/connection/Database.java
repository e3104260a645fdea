package dev.dusky.warehouses.connection;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.DatabaseSettings;
import java.sql.Connection;
import java.sql.SQLException;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.Handles;
import org.jdbi.v3.core.Jdbi;
import org.jdbi.v3.core.JdbiException;
import org.jdbi.v3.core.statement.SqlStatements;
import org.jdbi.v3.core.statement.TemplateEngine;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A database: one connection for short transactions, and more on demand. All failures of SQL are
 * turned into our own here.
 */
public final class Database implements AutoCloseable {

  private static final Logger LOG = LoggerFactory.getLogger(Database.class);

  private final DatabaseSettings settings;
  private final Dialect dialect;
  private final SqlFailures failures;
  private final Jdbi jdbi;
  private final Object looking = new Object();
  private Handle handle;

  /** Opens the database. */
  public Database(DatabaseSettings settings, Dialect dialect) {
    this.settings = settings;
    this.dialect = dialect;
    this.failures = new SqlFailures(settings, dialect);
    this.jdbi = Jdbi.create(() -> dialect.connect(settings));
    jdbi.getConfig(Handles.class).setForceEndTransactions(false); // undo() and release() do that
    jdbi.getConfig(SqlStatements.class).setUnusedBindingAllowed(true);
    jdbi.setTemplateEngine(TemplateEngine.NOP); // names of tables and columns are taken as they are
    jdbi.registerArrayType(Long.class, "bigint");
    jdbi.registerArrayType(String.class, "varchar");
    this.handle = connect();
  }

  /** Opens a connection with auto-commit off. */
  public Handle connect() {
    try {
      return jdbi.open();
    } catch (JdbiException e) {
      throw failures.of("Opening the warehouse " + settings.url(), sqlException(e));
    }
  }

  /** Where it is and how it is opened. */
  public DatabaseSettings settings() {
    return settings;
  }

  /** The dialect of this database. */
  public Dialect dialect() {
    return dialect;
  }

  /** Explains what the database refuses. */
  public SqlFailures failures() {
    return failures;
  }

  /** Work on a connection. */
  @FunctionalInterface
  public interface Work<T> {
    /** Does it. */
    T run(Handle handle) throws SQLException;
  }

  /** Runs work in a transaction of the shared connection: committed, or rolled back if it fails. */
  public <T> T transact(String doing, Work<T> work) {
    synchronized (looking) {
      if (handle == null) {
        handle = connect();
      }
      try {
        T result = work.run(handle);
        handle.getConnection().commit();
        return result;
      } catch (SQLException | JdbiException e) {
        SQLException cause = sqlException(e);
        Failure failure = failed(handle, doing, cause);
        if (SqlFailures.broken(cause)) {
          rest();
        }
        throw failure;
      } catch (RuntimeException e) {
        undo(handle);
        throw e;
      }
    }
  }

  /** Runs work on a connection whose transaction the caller ends. */
  public <T> T run(Handle own, String doing, Work<T> work) {
    try {
      return work.run(own);
    } catch (SQLException | JdbiException e) {
      throw failures.of(doing, sqlException(e));
    }
  }

  /** The same, rolled back if it fails. */
  public <T> T runOrUndo(Handle own, String doing, Work<T> work) {
    try {
      return work.run(own);
    } catch (SQLException | JdbiException e) {
      throw failed(own, doing, sqlException(e));
    }
  }

  /** The database's own exception behind one of the library or of JDBC. */
  public static SQLException sqlException(Exception e) {
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof SQLException sql) {
        return sql;
      }
    }
    throw e instanceof RuntimeException unchecked ? unchecked : new IllegalStateException(e);
  }

  /** The SQL state of what the database refused. */
  public static String state(Exception e) {
    return String.valueOf(sqlException(e).getSQLState());
  }

  /** Closes the shared connection until it is needed again. */
  public void rest() {
    synchronized (looking) {
      if (handle != null) {
        release(handle);
        handle = null;
      }
    }
  }

  /** Rolls back after a failure and explains it. */
  public Failure failed(Handle failing, String doing, SQLException e) {
    Failure failure = failures.of(doing, e);
    undo(failing);
    return failure;
  }

  /**
   * Rolls back what is not committed. If the connection is broken there is nothing left to undo:
   * the database drops the transaction with it.
   */
  public void undo(Handle used) {
    try {
      Connection connection = used.getConnection();
      if (!failures.lost() && !connection.isClosed()) {
        connection.rollback();
      }
    } catch (SQLException e) {
      LOG.debug("rolling back on a broken connection", e);
    }
  }

  /** Rolls back and closes a connection. */
  public void release(Handle used) {
    undo(used);
    try {
      if (!failures.lost()) {
        used.close();
      }
    } catch (JdbiException e) {
      LOG.debug("closing a broken connection", e);
    }
  }

  @Override
  public void close() {
    rest();
  }
}
