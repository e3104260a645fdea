package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.h2.H2Dialect;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is committed is in the file at once: a copy of the file is what a kill leaves. */
class H2DurabilityTest {

  @TempDir Path folder;

  private static String setting(Connection connection) throws Exception {
    try (Statement statement = connection.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select setting_value from information_schema.settings"
                    + " where setting_name = 'WRITE_DELAY'")) {
      return row.next() ? row.getString(1) : "none";
    }
  }

  @Test
  void commitsSurviveAKillAlsoAfterTablesWereChanged() throws Exception {
    H2Dialect dialect = new H2Dialect();
    DatabaseSettings address = TestH2.address(folder.resolve("w"));
    try (Connection connection = dialect.connect(address);
        Statement statement = connection.createStatement()) {
      String before = setting(connection);
      dialect.wholly(connection, () -> statement.execute("create table t (n integer)"));
      assertEquals(before, setting(connection));
      for (int n = 1; n <= 10; n++) {
        statement.execute("insert into t values (" + n + ")");
        connection.commit();
        Path copy = folder.resolve("copy" + n + ".mv.db");
        Files.copy(folder.resolve("w.mv.db"), copy);
        assertEquals(n, rows(folder.resolve("copy" + n)), "after commit " + n);
      }
    }
  }

  private static int rows(Path database) throws Exception {
    try (Connection connection =
            DriverManager.getConnection(
                "jdbc:h2:file:" + database + ";DATABASE_TO_LOWER=TRUE", "dusky", "");
        Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery("select count(*) from t")) {
      row.next();
      return row.getInt(1);
    }
  }
}
