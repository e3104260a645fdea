package dev.dusky.warehouses.source;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.source.Source;
import dev.dusky.warehouses.connection.SqlFailures;
import java.io.IOException;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Properties;
import java.util.ServiceLoader;

/** Connections to the database of a source, which only read. */
final class SourceConnections implements AutoCloseable {

  private final Source source;
  private URLClassLoader jar;
  private Driver driver;

  SourceConnections(Source source) {
    this.source = source;
  }

  /** Opens a connection with auto-commit off. */
  Connection open() {
    Properties properties = new Properties();
    source.at().user().ifPresent(user -> properties.setProperty("user", user));
    source.at().password().ifPresent(word -> properties.setProperty("password", word.reveal()));
    try {
      Connection connection =
          source.at().driver().isPresent()
              ? driver(source.at().driver().get()).connect(source.at().url(), properties)
              : DriverManager.getConnection(source.at().url(), properties);
      connection.setReadOnly(true);
      connection.setAutoCommit(false);
      return connection;
    } catch (SQLException e) {
      boolean unknown = "08001".equals(e.getSQLState()) && e.getMessage().contains("suitable");
      throw Failure.depot("The database of source %s cannot be opened".formatted(source.name()))
          .because(SqlFailures.firstLine(e))
          .hint(
              unknown
                  ? "Name the jar of its JDBC driver with driver in the source"
                  : "Check url, user and password of the source, and that it can be reached")
          .from(e);
    }
  }

  /** The driver in a jar that serves the URL. */
  private synchronized Driver driver(Path file) throws SQLException {
    if (driver != null) {
      return driver;
    }
    if (!Files.isRegularFile(file)) {
      throw Failure.configuration("Source " + source.name() + " has no driver")
          .because("there is no file " + file)
          .hint("Give the path of the JDBC driver's jar with driver");
    }
    try {
      jar = new URLClassLoader(new URL[] {file.toUri().toURL()}, getClass().getClassLoader());
    } catch (MalformedURLException e) {
      throw new IllegalStateException("a path is always a URL", e);
    }
    for (Driver found : ServiceLoader.load(Driver.class, jar)) {
      if (found.getClass().getClassLoader() == jar && found.acceptsURL(source.at().url())) {
        driver = found;
        return found;
      }
    }
    throw Failure.configuration("Source " + source.name() + " has no driver")
        .because("%s has no JDBC driver for %s".formatted(file, source.at()))
        .hint("Check the url, and that driver names the jar of that database");
  }

  @Override
  public void close() {
    if (jar != null) {
      try {
        jar.close();
      } catch (IOException e) {
        throw Failure.depot("Closing " + source.at().driver().orElseThrow() + " failed").from(e);
      }
    }
  }
}
