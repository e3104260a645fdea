package dev.dusky.warehouses.source;

import dev.dusky.core.source.Source;
import dev.dusky.core.source.SourceDatabase;
import dev.dusky.core.source.SourceDatabases;

/** Opens the databases of sources over JDBC. */
public final class JdbcSourceDatabases implements SourceDatabases {

  @Override
  public SourceDatabase open(Source source) {
    return new JdbcSourceDatabase(source, new SourceConnections(source));
  }
}
