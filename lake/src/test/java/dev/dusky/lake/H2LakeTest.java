package dev.dusky.lake;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.h2.BatchWriting;
import dev.dusky.warehouses.h2.H2Dialect;
import dev.dusky.warehouses.posting.JdbcTables;
import java.util.Optional;

class H2LakeTest extends LakeContract {

  @Override
  DatabaseSettings address() {
    return new DatabaseSettings(
        "jdbc:h2:mem:" + getClass().getSimpleName() + folder.getFileName() + ";DB_CLOSE_DELAY=-1",
        Optional.of("sa"),
        Optional.empty());
  }

  @Override
  Database open(DatabaseSettings settings) {
    return new Database(settings, new H2Dialect());
  }

  @Override
  JdbcTables ledgerTables(Database of) {
    return new JdbcTables(of, new BatchWriting());
  }
}
