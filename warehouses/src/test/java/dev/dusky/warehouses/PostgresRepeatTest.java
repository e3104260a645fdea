package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import org.junit.jupiter.api.BeforeAll;

class PostgresRepeatTest extends RepeatContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }
}
