package dev.dusky.lake;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class StatementPlaceTest {

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "true  | select * from dusky.load",
        "true  | select * from DUSKY . load",
        "true  | select * from \"dusky\".\"load\"",
        "true  | select 'x', f.path from(dusky.file f)",
        "true  | select metadata_location from iceberg_tables",
        "true  | select table_name from information_schema.tables",
        "false | select * from intake.milk where source = 'dusky.load'",
        "false | select * from intake.milk where source = 'it''s dusky.load'",
        "false | select * from intake.milk -- as dusky.load has it",
        "false | select /* dusky.load */ * from intake.milk",
        "false | select m.dusky_load from dusky_x.milk m",
        "false | select dusky from intake.milk",
        "false | select x.dusky.f from intake.milk x",
        "false | select * from \"my dusky\".milk",
      })
  void aStatementGoesToTheDatabaseIfItNamesTablesOfTheLedger(boolean ledger, String sql) {
    assertEquals(ledger, StatementPlace.isLedger(sql));
  }
}
