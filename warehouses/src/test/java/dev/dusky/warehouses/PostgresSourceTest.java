package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import org.junit.jupiter.api.BeforeAll;

class PostgresSourceTest extends SourceContract {

  private static DatabaseSettings database;

  @BeforeAll
  static void createDatabase() throws Exception {
    database = TestPostgres.newDatabase();
  }

  @Override
  DatabaseSettings address() {
    return database;
  }

  @Override
  String bytes() {
    return "bytea";
  }

  @Override
  String bytes(String hex) {
    return "'\\x" + hex + "'::bytea";
  }
}
