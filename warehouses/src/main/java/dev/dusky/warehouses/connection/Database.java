package dev.dusky.warehouses.connection;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.DatabaseSettings;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Semaphore;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.UnaryOperator;
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

  /** How many connections are opened to read besides the shared one. */
  private static final int MOST_LOOKS = 3;

  private final DatabaseSettings settings;
  private final Dialect dialect;
  private final SqlFailures failures;
  private final Jdbi jdbi;
  private final ReentrantLock shared = new ReentrantLock();
  private final Semaphore looks = new Semaphore(MOST_LOOKS);
  private final Queue<Handle> spares = new ConcurrentLinkedQueue<>();
  private Handle handle;
  private volatile UnaryOperator<Connection> wrapping = UnaryOperator.identity();

  /** Opens the database. */
  public Database(DatabaseSettings settings, Dialect dialect) {
    this.settings = settings;
    this.dialect = dialect;
    this.failures = new SqlFailures(settings, dialect);
    this.jdbi = Jdbi.create(() -> wrapping.apply(dialect.connect(settings)));
    jdbi.getConfig(Handles.class).setForceEndTransactions(false); // undo() and release() do that
    jdbi.getConfig(SqlStatements.class).setUnusedBindingAllowed(true);
    jdbi.setTemplateEngine(TemplateEngine.NOP); // names of tables and columns are taken as they are
    jdbi.registerArrayType(Long.class, "bigint");
    jdbi.registerArrayType(String.class, "varchar");
    jdbi.setSqlLogger(new StatementTime());
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

  /** Wraps all connections from now on, such as to do more when one commits. */
  public void wrap(UnaryOperator<Connection> by) {
    wrapping = by;
    rest();
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
    shared.lock();
    try {
      if (handle == null) {
        handle = connect();
      }
      return transact(handle, doing, work);
    } finally {
      shared.unlock();
    }
  }

  private <T> T transact(Handle used, String doing, Work<T> work) {
    try {
      T result = work.run(used);
      used.getConnection().commit();
      return result;
    } catch (SQLException | JdbiException e) {
      SQLException cause = sqlException(e);
      Failure failure = failed(used, doing, cause);
      if (SqlFailures.broken(cause)) {
        rest();
      }
      throw failure;
    } catch (RuntimeException e) {
      undo(used);
      throw e;
    }
  }

  /**
   * Runs work that only reads. If the shared connection is in use, it does not wait for it: a few
   * more are opened and kept until the database rests.
   */
  public <T> T look(String doing, Work<T> work) {
    if (shared.tryLock()) {
      try {
        return transact(doing, work);
      } finally {
        shared.unlock();
      }
    }
    if (!looks.tryAcquire()) {
      return transact(doing, work);
    }
    try {
      Handle kept = spares.poll();
      Handle used = kept == null ? connect() : kept;
      boolean done = false;
      try {
        T result = transact(used, doing, work);
        done = true;
        return result;
      } finally {
        if (done) {
          spares.add(used);
        } else {
          release(used);
        }
      }
    } finally {
      looks.release();
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

  /** Closes the connections that are not in use until they are needed again. */
  public void rest() {
    shared.lock();
    try {
      if (handle != null) {
        release(handle);
        handle = null;
      }
    } finally {
      shared.unlock();
    }
    for (Handle spare = spares.poll(); spare != null; spare = spares.poll()) {
      release(spare);
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
