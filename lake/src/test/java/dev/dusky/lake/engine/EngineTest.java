package dev.dusky.lake.engine;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.lake.file.FolderFiles;
import dev.dusky.lake.pointer.DatabasePointers;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.type.LakeTypes;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Our side of the protocol, against processes that say what a test wants. */
class EngineTest {

  private static final String READY = "{\"ready\":\"3.5.7\"}";

  private static final TableName COW = new TableName("dairy", "cow");

  @TempDir Path folder;

  private Engine engine(String... lines) throws Exception {
    return FakeEngine.in(folder, List.of(lines));
  }

  @Test
  void attemptsAreGivenUpOnceThatIsAskedFor() throws Exception {
    try (Engine engine = engine(READY, "", "{}")) {
      int[] asked = {0};
      Failure stopped =
          assertThrows(
              Failure.class,
              () ->
                  engine.attempt(
                      DispatchOrder.of("Worker", "", "dusky.yaml", "milk", Optional.empty()),
                      List.of(),
                      List.of(new DispatchPart(List.of())),
                      () -> ++asked[0] > 3));
      assertEquals(Failure.Kind.INTERRUPTED, stopped.kind());
      assertFalse(engine.alive());
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "{\"ready\":\"2.4.8\"} | it is version 2.4.8, and 3.5 is needed",
        "{\"ready\":\"3.50\"}  | it is version 3.50",
        "good morning          | its answer is not JSON",
        "                      | it is version",
      })
  void anEngineThatIsNotOursIsNotUsed(String first, String why) throws Exception {
    try (Engine engine = engine(first == null ? "{}" : first)) {
      String said = assertThrows(Failure.class, engine::open).getMessage();
      assertTrue(said.contains(why), said);
      assertTrue(said.contains("engine --install"), said);
    }
  }

  @Test
  void anEngineThatEndsIsSaidWithItsLastWordAndStartedAgain() throws Exception {
    try (Engine engine = engine(READY, "{\"id\":1}")) {
      for (int time = 0; time < 2; time++) {
        EngineTurn turn = engine.open();
        turn.begin(Map.of());
        String said = assertThrows(Failure.class, () -> turn.run("select 1")).getMessage();
        assertTrue(said.contains("has ended") && said.contains("the last word"), said);
        turn.close();
      }
    }
  }

  @Test
  void aMasterThatDoesNotAnswerIsNotTakenForARefusedStatement() throws Exception {
    String stopped = "Cannot call methods on a stopped SparkContext.";
    try (Engine engine = engine(READY, "{\"id\":1}", "{\"id\":2,\"failed\":\"" + stopped + "\"}")) {
      try (EngineTurn turn = engine.open()) {
        turn.begin(Map.of());
        String said = assertThrows(Failure.class, () -> turn.run("select 1")).getMessage();
        assertTrue(said.contains("does not answer"), said);
      }
    }
  }

  @Test
  void librariesThatAreNotThereAreNamedWithTheWayOut() {
    EngineSettings nowhere =
        new EngineSettings("local[1]", Optional.of(folder.resolve("none")), "64m", Map.of());
    try (Engine engine = new Engine(nowhere, new EngineLaunch("file:/x"), Optional.empty())) {
      String said = assertThrows(Failure.class, engine::open).getMessage();
      assertTrue(said.contains("engine --install"), said);
      assertThrows(Failure.class, engine::open, "the turn was given back");
    }
  }

  @Test
  void aRefusalIsAnAnswerAndTheEngineGoesOn() throws Exception {
    try (Engine engine =
        engine(
            READY,
            "{\"id\":1}",
            "{\"id\":2,\"failed\":\"no such column\",\"kind\":\"AnalysisException\"}",
            "{\"id\":3,\"failed\":\"too large\",\"kind\":\"SparkArithmeticException\"}",
            "{\"id\":4,\"columns\":[[\"a\",\"int\"],[\"b\",\"bigint\"],[\"c\",\"decimal(9,2)\"],"
                + "[\"d\",\"string\"],[\"e\",\"boolean\"],[\"f\",\"double\"],[\"g\",\"map<int,int>\"]]}"
                + " && {\"id\":4,\"row\":[1,2,3.00,\"x\",true,1.5,null]} && {\"id\":4,\"rows\":1}",
            "{\"id\":5}")) {
      try (EngineTurn turn = engine.open()) {
        turn.begin(Map.of());
        assertTrue(assertThrows(EngineRefusal.class, () -> turn.run("x")).ofStatement());
        assertFalse(assertThrows(EngineRefusal.class, () -> turn.run("x")).ofStatement());
        List<TableColumn> columns = new ArrayList<>();
        List<Object> row = new ArrayList<>();
        turn.read("select", columns::addAll, row::addAll);
        assertEquals("[1, 2, 3.00, x, true, 1.5, null]", row.toString());
        assertEquals(
            List.of(Integer.class, Long.class, java.math.BigDecimal.class),
            row.subList(0, 3).stream().map(Object::getClass).toList());
        assertEquals(
            List.of("integer", "bigint", "decimal(9,2)", "text", "boolean", "double precision"),
            columns.stream().flatMap(c -> c.type().stream()).map(SqlType::toString).toList());
        assertEquals("map<int,int>", columns.get(6).typeText());
      }
    }
  }

  /** What a turn changed becomes the catalog's only where nobody was quicker. */
  @Test
  void pointersMoveWithTheTransactionAndNotPastAnotherWriter() throws Exception {
    String url = "jdbc:h2:mem:" + folder.getFileName() + ";DB_CLOSE_DELAY=-1";
    String place = "file:" + folder.resolve("tables");
    LakeCatalog catalog =
        new LakeCatalog(
            new DatabasePointers("dusky"), place, new FolderFiles(folder.resolve("tables")));
    try (Connection ledger = DriverManager.getConnection(url)) {
      ledger.setAutoCommit(false);
      SqlType number = SqlType.parse("bigint").orElseThrow();
      Table table =
          catalog.create(
              ledger,
              COW,
              LakeTypes.schema(Map.of("no", number), Set.of("no")),
              PartitionSpec.unpartitioned(),
              SortOrder.unsorted());
      ledger.commit();
      String old = catalog.locations(ledger).get(COW);
      table.updateProperties().set("herd", "amber").commit();
      String changed = catalog.locations(ledger).get(COW);
      ledger.rollback();
      String moves = "{\"tables\":{\"dairy.cow\":[\"%s\",\"%s\"]}}".formatted(old, changed);
      String drops = "{\"tables\":{\"dairy.cow\":[\"%s\",null]}}".formatted(changed);
      String makes = "{\"tables\":{\"dairy.cow\":[null,\"%s\"]}}".formatted(old);
      Engine engine =
          engine(READY, "{}", moves, "{}", moves, "{}", makes, "{}", drops, "{}", makes);
      try (EngineSessions sessions = new EngineSessions(engine, catalog)) {
        assertTrue(complete(sessions, ledger));
        assertEquals(changed, catalog.locations(ledger).get(COW));
        ledger.rollback();
        assertEquals(old, catalog.locations(ledger).get(COW), "it was not committed");
        catalog.move(ledger, COW, Optional.of(old), Optional.of(changed));
        assertFalse(complete(sessions, ledger), "somebody was quicker");
        assertFalse(complete(sessions, ledger), "such a table is there already");
        assertTrue(complete(sessions, ledger));
        assertEquals(Set.of(), catalog.locations(ledger).keySet(), "dropped");
        assertTrue(complete(sessions, ledger));
        assertEquals(old, catalog.locations(ledger).get(COW), "made");
      }
    }
  }

  private static boolean complete(EngineSessions sessions, Connection ledger) {
    try (EngineTurn turn = sessions.open(ledger)) {
      return sessions.complete(turn, ledger);
    }
  }

  @Test
  void theClassesOfTheProcessAreInOneJarAlone() throws Exception {
    try (Stream<java.util.jar.JarEntry> all =
        new java.util.jar.JarFile(EngineClasses.PLACE.toFile()).stream()) {
      List<String> names = all.map(java.util.jar.JarEntry::getName).toList();
      assertTrue(names.contains("dev/dusky/engine/EngineProcess.class"), names.toString());
      assertTrue(names.stream().allMatch(n -> n.startsWith("dev/dusky/engine/")), names.toString());
    }
    assertTrue(Files.size(EngineClasses.PLACE) < 200_000);
  }
}
