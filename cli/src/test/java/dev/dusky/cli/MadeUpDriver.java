package dev.dusky.cli;

import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverManager;
import java.sql.DriverPropertyInfo;
import java.sql.SQLException;
import java.util.Properties;
import java.util.logging.Logger;

/** The driver of a database that the program does not know, put into a jar by a test. */
public final class MadeUpDriver implements Driver {

  private static final String PREFIX = "jdbc:madeup:";

  @Override
  public Connection connect(String url, Properties info) throws SQLException {
    return DriverManager.getConnection("jdbc:" + url.substring(PREFIX.length()), info);
  }

  @Override
  public boolean acceptsURL(String url) {
    return url.startsWith(PREFIX);
  }

  @Override
  public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) {
    return new DriverPropertyInfo[0];
  }

  @Override
  public int getMajorVersion() {
    return 1;
  }

  @Override
  public int getMinorVersion() {
    return 0;
  }

  @Override
  public boolean jdbcCompliant() {
    return false;
  }

  @Override
  public Logger getParentLogger() {
    return Logger.getGlobal();
  }
}
