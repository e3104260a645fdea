package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.core.warehouse.LakeSettings;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class EngineReaderTest {

  private static final String MERGE =
      "\nmerges:\n  cow: { from: intake.cow, into: dairy.cow, key: no }\n";

  @TempDir Path folder;

  private LakeSettings read(String engine) throws Exception {
    return LakeText.read(folder, engine);
  }

  @Test
  void onePlaceIsEnough() throws Exception {
    assertEquals(
        Optional.of(EngineSettings.at("local[2]")), read("  engine: \"local[2]\"\n").engine());
    assertEquals(Optional.empty(), read("").engine());
  }

  @Test
  void aBlockHasTheRest() throws Exception {
    EngineSettings engine =
        read("  engine:\n    at: spark://lake.example:7077\n    home: ./spark\n    memory: 4g\n"
                + "    options: { spark.executor.memory: 8g }\n")
            .engine()
            .orElseThrow();
    assertEquals("spark://lake.example:7077", engine.at());
    assertEquals(folder.toAbsolutePath().resolve("./spark"), engine.home().orElseThrow());
    assertEquals("4g", engine.memory());
    assertEquals(Map.of("spark.executor.memory", "8g"), engine.options());
    assertTrue(!engine.local() && EngineSettings.at("local[*]").local());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "engine: somewhere                              | line 4 | is not a place for an engine",
        "engine: local[two]                             | line 4 | is not a place for an engine",
        "engine: { at: yarn, memory: plenty }           | line 4 | memory must be",
        "engine: { at: yarn, options: { cores: 2 } }    | line 4 | 'cores' is not an option",
        "engine: { memory: 1g }                         | line 4 | needs the key at",
        "engine: { at: yarn, place: x }                 | line 4 | no key 'place'",
      })
  void whatItIsNotIsSaidWithItsLine(String engine, String line, String why) {
    String said = assertThrows(Failure.class, () -> read("  " + engine + "\n")).getMessage();
    assertTrue(said.contains(line) && said.contains(why), said);
  }

  @Test
  void mergesOfSuchTablesNeedOneAndDatabasesNeedNone() throws Exception {
    String merges = assertThrows(Failure.class, () -> read(MERGE)).getMessage();
    assertTrue(merges.contains("need an engine"), merges);
    assertEquals("local", read("  engine: local\n" + MERGE).engine().orElseThrow().at());
    Path file =
        Files.writeString(
            folder.resolve("plain.yaml"),
            "warehouse: { url: \"jdbc:h2:file:./w\", engine: local }\n");
    String plain = assertThrows(Failure.class, () -> Configuration.read(file)).getMessage();
    assertTrue(plain.contains("there are none here"), plain);
  }

  private static String feed(String partition) {
    return "depots: { yard: { at: \"file:./yard\" } }\nfeeds:\n  cow:\n    depot: yard\n    files: \"*.csv\"\n"
        + "    layout: { kind: delimited }\n    into: intake.cow\n    partition: "
        + partition
        + "\n    columns: { no: bigint, farm: varchar(8), at: timestamp, share: real }\n";
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "[day(born)]            | the feed has no column born",
        "[day(aat)]             | did you mean at?",
        "[day(farm)]            | day(farm) does not apply to column farm, which is varchar(8)",
        "['bucket(4, share)']   | does not apply to column share",
        "['bucket(farm)']       | partition cannot have 'bucket(farm)'",
        "[week(at)]             | partition cannot have 'week(at)'",
        "[day(at]               | ",
      })
  void aPartitionThatATableCannotHaveIsSaidWithItsLine(String partition, String why) {
    String said = assertThrows(Failure.class, () -> read(feed(partition))).getMessage();
    assertTrue(why == null || said.contains(why) && said.contains("line 11"), said);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "[born]                 | the feed has no column born",
        "[farn]                 | did you mean farm?",
        "[farm down]            | sort cannot have 'farm down'",
        "[day(at)]              | sort cannot have 'day(at)'",
        "[note]                 | column note is json, which has no order",
      })
  void anOrderThatRowsCannotHaveIsSaidWithItsLine(String sort, String why) {
    String declared =
        feed("[]\n    sort: " + sort).replace("share: real", "share: real, note: json");
    String said = assertThrows(Failure.class, () -> read(declared)).getMessage();
    assertTrue(said.contains(why) && said.contains("line 12"), said);
  }

  @Test
  void anOrderIsForTablesInObjectStorageAndNotForRepeatsOfTheTable() throws Exception {
    String declared = feed("[]\n    sort: [farm, at desc]");
    read(declared);
    Feed feed = Configuration.read(folder.resolve("dusky.yaml")).feed("cow");
    assertEquals("[farm, at desc]", feed.policies().arrangement().sort().toString());
    Path plain =
        Files.writeString(
            folder.resolve("plain.yaml"), "warehouse: \"jdbc:h2:file:./w\"\n" + declared);
    String said = assertThrows(Failure.class, () -> Configuration.read(plain)).getMessage();
    assertTrue(said.contains("only tables in object storage are sorted"), said);
    String repeats = declared + "    repeats: { key: [no], scope: table }\n";
    said = assertThrows(Failure.class, () -> read(repeats)).getMessage();
    assertTrue(said.contains("in which they landed"), said);
  }

  private static String nested(String form) {
    return feed("[]")
        .replace("no: bigint", "no: bigint, calf: { type: json, nested: %s }".formatted(form));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "[text]                                    | array(text)",
        "{ '*': integer not null }                 | map(text, integer not null)",
        "{ no: bigint not null, born: date }       | row(no bigint not null, born date)",
        "{ a: [ { b: text } ], '*': skip }         | row(a array(row(b text)))",
        "[[{ '*': { x: json } }]]                  | array(array(map(text, row(x json))))",
      })
  void theFormOfNestedValuesIsReadAndWrittenAsDeclared(String form, String type) throws Exception {
    read(nested(form));
    Feed feed = Configuration.read(folder.resolve("dusky.yaml")).feed("cow");
    FeedColumn column = feed.column("calf").orElseThrow();
    assertEquals(type, column.type().toString());
    String again = FeedText.column(column);
    assertTrue(again.contains("type: json"), again);
    Files.writeString(
        folder.resolve("again.yaml"),
        Files.readString(folder.resolve("dusky.yaml"))
            .replace("calf: { type: json, nested: %s }".formatted(form), "calf: " + again));
    Feed second = Configuration.read(folder.resolve("again.yaml")).feed("cow");
    assertEquals(column, second.column("calf").orElseThrow());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "text                                      | declare an object { name: type, … } or an array",
        "{}                                        | an object needs at least one member",
        "{ '*': skip }                             | an object needs at least one member",
        "[]                                        | an array has one entry",
        "[text, date]                              | an array has one entry",
        "{ a: txt }                                | nested: 'txt' is not a SQL type",
        "{ a: text, '*': text }                    | \"*\" can only be skip",
        "{ a: text, A: text }                      | members a and A differ only in case",
        "{ a: 'decimal(40,2)' }                    | decimals of up to 38 digits",
        "[[[[[[[[[[[[[[[[[[[[[[text]]]]]]]]]]]]]]]]]]]]]] | at most 21 levels can be declared",
      })
  void aFormThatNestedValuesCannotHaveIsSaidWithItsLine(String form, String why) {
    String said = assertThrows(Failure.class, () -> read(nested(form))).getMessage();
    assertTrue(said.contains(why) && said.contains("line 12"), said);
  }

  @Test
  void nestedValuesAreForJsonInTablesInObjectStorage() throws Exception {
    String declared = nested("[text]");
    Path plain =
        Files.writeString(
            folder.resolve("plain.yaml"),
            "warehouse: \"jdbc:h2:file:./w\"\n" + declared.replace("    partition: []\n", ""));
    String said = assertThrows(Failure.class, () -> Configuration.read(plain)).getMessage();
    assertTrue(said.contains("only tables in object storage have nested columns"), said);
    said =
        assertThrows(Failure.class, () -> read(declared.replace("type: json", "type: text")))
            .getMessage();
    assertTrue(said.contains("only a column of type json has nested values"), said);
    said =
        assertThrows(
                Failure.class,
                () -> read(declared.replace("partition: []", "partition: ['bucket(2, calf)']")))
            .getMessage();
    assertTrue(said.contains("does not apply to column calf"), said);
    String repeats = declared + "    repeats: { key: [calf], scope: table }\n";
    said = assertThrows(Failure.class, () -> read(repeats)).getMessage();
    assertTrue(said.contains("the nested column calf cannot be compared"), said);
  }

  @Test
  void partitionsAreForTablesInObjectStorage() throws Exception {
    String declared = feed("[\"day(at)\", \"bucket(16, farm)\", \"truncate(2, no)\", farm]");
    read(declared);
    Feed feed = Configuration.read(folder.resolve("dusky.yaml")).feed("cow");
    assertEquals(
        "[day(at), bucket(16, farm), truncate(2, no), farm]",
        feed.policies().arrangement().partition().toString());
    Path plain =
        Files.writeString(
            folder.resolve("plain.yaml"), "warehouse: \"jdbc:h2:file:./w\"\n" + declared);
    String said = assertThrows(Failure.class, () -> Configuration.read(plain)).getMessage();
    assertTrue(said.contains("only tables in object storage"), said);
  }
}
