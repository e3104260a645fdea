package dev.dusky.lake.service;

import dev.dusky.core.table.TableName;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What the transaction of a connection has changed in the catalog's tables so far. It follows the
 * connection's savepoints and rollbacks; a commit publishes it first.
 */
final class Working implements InvocationHandler {

  /** What a commit does. */
  @FunctionalInterface
  interface Commit {
    /** Commits the connection's transaction and what it has changed in tables, or neither. */
    void of(Connection connection, Map<TableName, Change> changes) throws SQLException;
  }

  private final Connection connection;
  private final Commit commit;
  private final Map<Savepoint, Map<TableName, Change>> marks = new IdentityHashMap<>();
  private Map<TableName, Change> changes = new LinkedHashMap<>();

  private Working(Connection connection, Commit commit) {
    this.connection = connection;
    this.commit = commit;
  }

  /** A connection whose commits are done so. */
  static Connection on(Connection connection, Commit commit) {
    return (Connection)
        Proxy.newProxyInstance(
            Working.class.getClassLoader(),
            new Class<?>[] {Connection.class},
            new Working(connection, commit));
  }

  /** That of a connection. */
  static Working of(Connection connection) {
    return (Working) Proxy.getInvocationHandler(connection);
  }

  Optional<Change> change(TableName table) {
    return Optional.ofNullable(changes.get(table));
  }

  void put(TableName table, Change change) {
    changes.put(table, change);
  }

  Map<TableName, Change> changes() {
    return Map.copyOf(changes);
  }

  @Override
  public Object invoke(Object proxy, Method method, Object[] arguments) throws Throwable {
    switch (method.getName()) {
      case "commit" -> {
        Map<TableName, Change> made = changes;
        clear();
        if (!made.isEmpty()) {
          commit.of(connection, made);
          return null;
        }
      }
      case "rollback" -> {
        Map<TableName, Change> marked = arguments == null ? Map.of() : marks.get(arguments[0]);
        changes = new LinkedHashMap<>(marked);
      }
      case "setSavepoint" -> {
        Savepoint mark = (Savepoint) call(method, arguments);
        marks.put(mark, Map.copyOf(changes));
        return mark;
      }
      default -> {}
    }
    return call(method, arguments);
  }

  private void clear() {
    changes = new LinkedHashMap<>();
    marks.clear();
  }

  private Object call(Method method, Object[] arguments) throws Throwable {
    try {
      return method.invoke(connection, arguments);
    } catch (InvocationTargetException e) {
      throw e.getCause();
    }
  }
}
