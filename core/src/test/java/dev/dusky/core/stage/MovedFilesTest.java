package dev.dusky.core.stage;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.stage.StageListener.Outcome;
import java.io.IOException;
import java.lang.reflect.Proxy;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A local file is removed only once the depot is known to have the content that it still has. */
class MovedFilesTest {

  /** What is done when a depot stores a file, which gives the size that it then has of it. */
  @FunctionalInterface
  private interface Putting {
    long put(Path local) throws IOException;
  }

  @TempDir Path folder;
  private Path file;
  private final Map<String, Outcome> outcomes = new TreeMap<>();
  private String why = "";

  @BeforeEach
  void write() throws IOException {
    file = Files.writeString(folder.resolve("a.csv"), "1,2\n");
  }

  private static Depot depot(Putting putting) {
    return (Depot)
        Proxy.newProxyInstance(
            MovedFilesTest.class.getClassLoader(),
            new Class<?>[] {Depot.class},
            (proxy, method, arguments) ->
                switch (method.getName()) {
                  case "look" -> Optional.empty();
                  case "put" ->
                      new StagedFile(
                          (String) arguments[0],
                          putting.put((Path) arguments[1]),
                          "m",
                          Instant.EPOCH);
                  default -> throw new AssertionError(method.toString());
                });
  }

  private StageResult move(Depot depot) throws IOException {
    StageListener listener =
        new StageListener() {
          @Override
          public void sent(long bytes) {}

          @Override
          public void done(LocalFile local, Outcome outcome, String reason) {
            outcomes.put(local.path(), outcome);
            why = reason;
          }
        };
    return new Stager(depot, new StagePlan(false, 1, 0, true))
        .run(List.of(LocalFile.of(file, "in/a.csv")), listener);
  }

  @Test
  void aFileThatTheDepotHasIsRemoved() throws IOException {
    assertTrue(move(depot(Files::size)).whole());
    assertFalse(Files.exists(file));
    assertEquals(Map.of("in/a.csv", Outcome.STAGED), outcomes);
  }

  @Test
  void aFileOfWhichTheDepotHasLessStays() throws IOException {
    StageResult result = move(depot(local -> Files.size(local) - 1));
    assertEquals(1, result.unreadable());
    assertTrue(Files.exists(file));
    assertTrue(why.contains("the depot has 3 bytes of it, the file has 4"), why);
  }

  @Test
  void aFileThatIsWrittenToWhileItIsSentStays() throws IOException {
    StageResult result =
        move(
            depot(
                local -> {
                  Files.writeString(local, "1,2\n3,4\n");
                  return 4;
                }));
    assertFalse(result.whole());
    assertEquals("1,2\n3,4\n", Files.readString(file));
    assertTrue(why.contains("was staged, but not removed"), why);
  }
}
