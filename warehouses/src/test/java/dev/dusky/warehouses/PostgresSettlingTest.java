package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import org.junit.jupiter.api.BeforeAll;

class PostgresSettlingTest extends SettlingContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings freshAddress() throws Exception {
    return TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }
}
