package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import org.junit.jupiter.api.BeforeAll;

/** The same merges on PostgreSQL before version 17. */
class PostgresOlderMergeTest extends MergeContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  JdbcWarehouse opened() {
    return OlderPostgres.open(database);
  }

  @Override
  int rounds(int usual) {
    return (usual + 1) / 2;
  }

  @Override
  DatabaseSettings address() {
    return database;
  }
}
