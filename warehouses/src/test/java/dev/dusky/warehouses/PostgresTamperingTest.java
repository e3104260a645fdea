package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;

class PostgresTamperingTest extends TamperingContract {

  /** A fresh one for each test, since each leaves the ledger in disorder. */
  @Override
  DatabaseSettings address() throws Exception {
    return TestPostgres.newDatabase();
  }
}
