package dev.dusky.cli.torture;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/** A real PostgreSQL server whose connections are cut, and which is stopped and started again. */
final class TorturedDatabase implements AutoCloseable {

  private final Path data;
  private EmbeddedPostgres server;
  private final int port;

  TorturedDatabase(Path data) throws IOException {
    this.data = data;
    this.server = builder().start();
    this.port = server.getPort();
  }

  String url() {
    return "jdbc:postgresql://localhost:" + port + "/postgres";
  }

  private Connection connect() throws SQLException {
    return DriverManager.getConnection(url() + "?user=postgres");
  }

  /** The rows of a query, their values as texts. */
  List<List<String>> ask(String sql) throws SQLException {
    try (Connection connection = connect();
        Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      int columns = row.getMetaData().getColumnCount();
      List<List<String>> rows = new ArrayList<>();
      while (row.next()) {
        List<String> values = new ArrayList<>();
        for (int i = 1; i <= columns; i++) {
          values.add(row.getString(i));
        }
        rows.add(values);
      }
      return rows;
    }
  }

  /** Cuts some of the connections of others; gives how many. */
  int cut(int oneIn) throws SQLException {
    return ask("""
            select pg_terminate_backend(pid) from pg_stat_activity
            where backend_type = 'client backend' and pid <> pg_backend_pid()
              and pid %% %d = 0"""
            .formatted(oneIn))
        .size();
  }

  /** Stops the server, whoever is at work, and starts it again on the same data and port. */
  void restart() throws IOException {
    server.close();
    server = builder().setPort(port).start();
  }

  private EmbeddedPostgres.Builder builder() {
    return EmbeddedPostgres.builder().setDataDirectory(data).setCleanDataDirectory(false);
  }

  @Override
  public void close() throws IOException {
    server.close();
  }
}
