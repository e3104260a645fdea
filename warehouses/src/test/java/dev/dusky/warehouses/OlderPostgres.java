package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.postgres.CopyWriting;
import dev.dusky.warehouses.postgres.PostgresDialect;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;

/** PostgreSQL as version 16 and earlier are: {@code merge} returns nothing. */
final class OlderPostgres {

  private OlderPostgres() {}

  /** Opens the database as if it were of such a version. */
  static JdbcWarehouse open(DatabaseSettings settings) {
    Dialect dialect = new PostgresDialect();
    Dialect older =
        (Dialect)
            Proxy.newProxyInstance(
                Dialect.class.getClassLoader(),
                new Class<?>[] {Dialect.class},
                (proxy, method, args) -> {
                  if (method.getName().startsWith("returns")) {
                    return false;
                  }
                  try {
                    return method.invoke(dialect, args);
                  } catch (InvocationTargetException e) {
                    throw e.getCause();
                  }
                });
    return new JdbcWarehouse(settings, older, new CopyWriting());
  }
}
