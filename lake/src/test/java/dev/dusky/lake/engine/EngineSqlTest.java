package dev.dusky.lake.engine;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class EngineSqlTest {

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "select \"order\" from t           | select `order` from t",
        "select \"a\"\"b`c\" from t        | select `a\"b``c` from t",
        "select 'it''s'                    | select 'it\\'s'",
        "select 'a\\b', ''                 | select 'a\\\\b', ''",
        "select '\"x\"' -- \"y\" 'z        | select '\"x\"' -- \"y\" 'z",
        "cast(x as varchar)                | cast(x as string)",
        "cast(x as VARCHAR(20))            | cast(x as string)",
        "cast(a as timestamp with time zone) | cast(a as timestamp_ltz)",
        "cast(cast(a as date) as timestamp)  | cast(cast(a as date) as timestamp_ntz)",
        "cast((select 1 as varchar) as decimal(9,2)) | cast((select 1 as varchar) as decimal(9,2))",
        "select 1 as text, cast(2 as text) | select 1 as text, cast(2 as string)",
        "x fetch first 3 rows only         | x limit 3",
        "x FETCH  FIRST 1 ROW ONLY) k      | x limit 1) k",
        "prefetch first, fetched           | prefetch first, fetched",
        "/* 'a */ select 'b'               | /* 'a */ select 'b'",
      })
  void standardSqlIsSaidInTheEnginesWords(String standard, String engine) {
    assertEquals(engine, EngineSql.of(standard));
  }

  @Test
  void numbersWithoutDigitsAreRefusedBeforeTheyLoseTheirFractions() {
    Failure refused = assertThrows(Failure.class, () -> EngineSql.of("cast(x as numeric)"));
    assertTrue(refused.getMessage().contains("fractions"), refused.getMessage());
  }

  /** Whatever a text holds, its literal means that text, and what is behind it stays as it is. */
  @Test
  void aTextEndsWhereItEnded() {
    Random random = new Random(11);
    for (int round = 0; round < 2_000; round++) {
      StringBuilder text = new StringBuilder();
      for (int i = random.nextInt(8); i > 0; i--) {
        text.append("'\\\"`a-*/".charAt(random.nextInt(8)));
      }
      String sql = "select '" + text.toString().replace("'", "''") + "', \"n\"";
      String said = EngineSql.of(sql);
      int end = said.lastIndexOf("', `n`");
      assertEquals("select '", said.substring(0, 8), sql);
      assertEquals(text.toString(), meant(said.substring(8, end)), sql);
    }
  }

  /** The text that the engine means: behind a backslash the next character is taken as it is. */
  private static String meant(String literal) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < literal.length(); i++) {
      assertTrue(literal.charAt(i) != '\'', "ends early: " + literal);
      i += literal.charAt(i) == '\\' ? 1 : 0;
      text.append(literal.charAt(i));
    }
    return text.toString();
  }
}
