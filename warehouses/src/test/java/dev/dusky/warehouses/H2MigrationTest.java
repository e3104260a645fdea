package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.h2.H2Dialect;
import dev.dusky.warehouses.ledger.Migrations;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** H2 commits each statement that makes a table: a process may be killed behind any of them. */
class H2MigrationTest {

  private static final class Killed extends RuntimeException {}

  /** The connection, which dies right after a given number of statements. */
  private static Connection dyingAfter(Connection real, int statements) {
    int[] left = {statements};
    return (Connection)
        proxy(
            Connection.class,
            real,
            (name, result) ->
                result instanceof Statement statement && name.equals("createStatement")
                    ? proxy(
                        Statement.class,
                        statement,
                        (method, value) -> {
                          if (method.equals("execute") && --left[0] == 0) {
                            throw new Killed();
                          }
                          return value;
                        })
                    : result);
  }

  @FunctionalInterface
  private interface After {
    Object give(String method, Object result);
  }

  private static Object proxy(Class<?> type, Object real, After after) {
    return Proxy.newProxyInstance(
        H2MigrationTest.class.getClassLoader(),
        new Class<?>[] {type},
        (proxy, method, arguments) -> {
          try {
            return after.give(method.getName(), method.invoke(real, arguments));
          } catch (InvocationTargetException e) {
            throw e.getCause();
          }
        });
  }

  private static String shape(Connection connection) throws Exception {
    StringBuilder shape = new StringBuilder();
    try (Statement statement = connection.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select table_name, column_name, data_type from information_schema.columns"
                    + " where table_schema = 'dusky' order by 1, 2")) {
      while (row.next()) {
        shape.append(row.getString(1)).append(' ').append(row.getString(2)).append('\n');
      }
    }
    return shape.toString();
  }

  @Test
  void whoeverComesNextGoesOnWhereOneWasKilled() throws Exception {
    H2Dialect dialect = new H2Dialect();
    String whole = "";
    boolean killed = true;
    int cuts = 0;
    for (int cut = 0; killed; cut++) { // 0 is never reached: the whole of it
      DatabaseSettings address =
          new DatabaseSettings(
              "jdbc:h2:mem:cut" + cut + ";DB_CLOSE_DELAY=-1", Optional.empty(), Optional.empty());
      try (Connection connection = dialect.connect(address)) {
        killed = cut == 0;
        try {
          new Migrations(dialect).apply(dyingAfter(connection, cut));
        } catch (Killed e) {
          killed = true;
          cuts++;
          connection.rollback();
          new Migrations(dialect).apply(connection);
        }
        connection.commit();
        whole = cut == 0 ? shape(connection) : whole;
        assertEquals(whole, shape(connection), "killed behind statement " + cut);
        try (Statement drop = connection.createStatement()) {
          drop.execute("shutdown immediately");
        }
      }
    }
    assertTrue(cuts > 40, "all of them were tried: " + cuts);
  }
}
