package dev.dusky.warehouses;

class PostgresTamperingTest extends TamperingContract {

  /** A fresh one for each test, since each leaves the ledger in disorder. */
  @Override
  WarehouseAddress address() throws Exception {
    return TestPostgres.newDatabase();
  }
}
