package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;

class PostgresReportTest extends ReportContract {

  @Override
  DatabaseSettings address() throws Exception {
    return TestPostgres.newDatabase();
  }

  @Override
  String bytes() {
    return "bytea";
  }
}
