package dev.dusky.warehouses;

import org.junit.jupiter.api.BeforeAll;

class PostgresSettlingTest extends SettlingContract {

  private static WarehouseAddress database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  WarehouseAddress freshAddress() throws Exception {
    return TestPostgres.newDatabase();
  }

  @Override
  WarehouseAddress address() {
    return database;
  }
}
