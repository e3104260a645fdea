package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.warehouse.DatabaseSettings;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

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

  @Test
  void theServersOwnTypesKeepTheirText() throws Exception {
    execute(
        "create table own (id bigint, n numeric, i interval, a integer[], j jsonb, k json,"
            + " ip inet, b bit(3), w numeric(38,0), z numeric(9,4))");
    query(
        "insert into own values (1, 1e-20, interval '1 day 02:00', '{1,2}', '{\"q\": [1]}',"
            + " e'{\"a\":\\n1}', '10.0.0.1', b'101', -99999999999999999999999999999999999999,"
            + " 10000.0001), (2, 'NaN', null, null, null, null, null, null, 10000, 0.5)");
    assertEquals(
        List.of(
            "{\"id\":1,\"n\":\"0.00000000000000000001\",\"i\":\"1 day 02:00:00\",\"a\":\"{1,2}\","
                + "\"j\":{\"q\": [1]},\"k\":{\"a\": 1},\"ip\":\"10.0.0.1/32\",\"b\":\"101\","
                + "\"w\":-99999999999999999999999999999999999999,\"z\":10000.0001}",
            "{\"id\":2,\"n\":\"NaN\",\"i\":null,\"a\":null,\"j\":null,\"k\":null,\"ip\":null,"
                + "\"b\":null,\"w\":10000,\"z\":0.5000}"),
        staged("own", "select * from own where not (j ? 'absent') or j is null order by id"));
  }

  @Test
  void whatNoTypeHoldsIsNotChanged() {
    for (String value :
        List.of("'NaN'::numeric(9,2)", "'infinity'::timestamptz", "'-infinity'::date")) {
      String told = failed(() -> staged("odd", "select 1 as id, " + value + " as odd"));
      assertTrue(told.contains("Row 1 of source odd cannot be staged exactly"), told);
    }
  }
}
