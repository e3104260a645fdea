package dev.dusky.lake.engine;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.type.SqlType;
import dev.dusky.lake.type.LakeTypes;
import dev.dusky.testkit.RandomNested;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A type that the engine is given, and that it names, is the one of the table. */
class EngineTypesTest {

  @Test
  void aTypeKeepsItsFormInTheEnginesWords() {
    RandomNested nested = new RandomNested(new Random(5));
    for (int i = 0; i < 1_000; i++) {
      SqlType type = nested.type(3);
      Optional<SqlType> again = EngineTypes.type(EngineTypes.name(type));
      assertTrue(again.isPresent(), () -> EngineTypes.name(type));
      assertEquals(
          EngineTypes.name(again.get()),
          EngineTypes.name(EngineTypes.type(EngineTypes.name(again.get())).orElseThrow()));
      assertEquals(shape(type), shape(again.get()), type::toString);
    }
  }

  /** A type without what the engine does not have. */
  private static String shape(SqlType type) {
    return EngineTypes.name(type).replaceAll(" comment '[^']*'| not null", "");
  }

  @Test
  void membersKeepWhatTheirCommentsSay() {
    SqlType type =
        EngineTypes.type(
                "STRUCT<No: INT NOT NULL COMMENT 'smallint', `by x`: STRING COMMENT 'varchar(9)',"
                    + " said: STRING COMMENT 'what it said', list: ARRAY<MAP<STRING, DATE>>>")
            .orElseThrow();
    assertEquals(
        "row(No smallint not null, by x varchar(9), said text, list array(map(text, date)))",
        type.toString());
    assertEquals(
        LakeTypes.type(type).toString().toLowerCase(java.util.Locale.ROOT),
        LakeTypes.type(EngineTypes.type(EngineTypes.name(type)).orElseThrow())
            .toString()
            .toLowerCase(java.util.Locale.ROOT));
  }

  @Test
  void whatIsNoTypeOfOursIsNone() {
    for (String name :
        new String[] {
          "struct<>",
          "struct<a: interval day>",
          "array<int",
          "map<int, string>",
          "array<int> x",
          "void",
          "struct<a int>"
        }) {
      assertEquals(Optional.empty(), EngineTypes.type(name), name);
    }
  }
}
