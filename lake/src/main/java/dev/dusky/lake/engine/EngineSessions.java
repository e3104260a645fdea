package dev.dusky.lake.engine;

import dev.dusky.core.dispatch.Dispatcher;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import dev.dusky.lake.file.Durable;
import dev.dusky.lake.pointer.LakeCatalog;
import java.sql.Connection;
import java.util.Map;
import java.util.function.Function;

/** Turns of the engine on the tables of a catalog, and how their changes become the catalog's. */
public final class EngineSessions implements AutoCloseable {

  private final Engine engine;
  private final LakeCatalog catalog;

  /** Turns of that engine on that catalog. */
  public EngineSessions(Engine engine, LakeCatalog catalog) {
    this.engine = engine;
    this.catalog = catalog;
  }

  /** A turn that sees the tables as the connection's transaction does. */
  public EngineTurn open(Connection connection) {
    Map<TableName, String> tables = catalog.locations(connection);
    EngineTurn turn = engine.open();
    try {
      turn.begin(tables);
      return turn;
    } catch (RuntimeException e) {
      turn.close();
      throw e;
    }
  }

  /** Lets a turn see what was committed since it began, but for tables that it has changed. */
  public void refresh(EngineTurn turn, Connection connection) {
    turn.give(catalog.locations(connection));
  }

  /**
   * Moves the pointers of the tables that a turn changed, in the connection's transaction.
   *
   * @return false if another transaction has moved one meanwhile
   */
  public boolean complete(EngineTurn turn, Connection connection) {
    Map<TableName, EngineTurn.Moved> changed = turn.end();
    for (Map.Entry<TableName, EngineTurn.Moved> table : changed.entrySet()) {
      EngineTurn.Moved moved = table.getValue();
      moved.to().ifPresent(to -> Durable.force(catalog.files(), moved.from(), to));
      if (!catalog.move(connection, table.getKey(), moved.from(), moved.to())) {
        return false;
      }
    }
    return true;
  }

  /**
   * Attempts files on the engine's machines.
   *
   * @param refused what the engine refuses, as a failure
   */
  public Dispatcher dispatcher(Function<EngineRefusal, Failure> refused) {
    return (order, landed, parts, stopped) -> {
      try {
        return engine.attempt(order, landed, parts, stopped);
      } catch (EngineRefusal e) {
        throw refused.apply(e);
      }
    };
  }

  @Override
  public void close() {
    engine.close();
  }
}
