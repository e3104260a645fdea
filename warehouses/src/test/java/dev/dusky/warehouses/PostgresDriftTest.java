package dev.dusky.warehouses;

import org.junit.jupiter.api.BeforeAll;

class PostgresDriftTest extends DriftContract {

  private static WarehouseAddress database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  WarehouseAddress address() {
    return database;
  }
}
