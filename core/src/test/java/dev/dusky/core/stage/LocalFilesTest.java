package dev.dusky.core.stage;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class LocalFilesTest {

  @TempDir Path folder;

  @BeforeEach
  void make() throws IOException {
    for (String name :
        List.of("out/b/2.csv", "out/a.csv", "out/.hidden", "out/.git/x", "one.csv")) {
      Path file = folder.resolve(name);
      Files.createDirectories(file.getParent());
      Files.writeString(file, name);
    }
  }

  private List<String> paths(String under, String... names) {
    List<Path> chosen = java.util.Arrays.stream(names).map(folder::resolve).toList();
    return LocalFiles.find(chosen, under, file -> true).stream().map(LocalFile::path).toList();
  }

  @Test
  void aDirectoryStandsForWhatIsBelowIt() {
    assertEquals(List.of("a.csv", "b/2.csv"), paths("", "out"));
  }

  @Test
  void aFileKeepsItsNameUnderTheFolderGiven() {
    assertEquals(List.of("daily/x/one.csv"), paths("/daily/x/", "one.csv"));
    assertEquals(List.of("d/a.csv", "d/b/2.csv", "d/one.csv"), paths("d", "one.csv", "out"));
  }

  @Test
  void sizesAreTaken() {
    assertEquals(
        "one.csv".length(),
        LocalFiles.find(List.of(folder.resolve("one.csv")), "", file -> true).get(0).size());
  }

  @Test
  void twoFilesCannotBecomeOne() throws IOException {
    Files.writeString(folder.resolve("out/one.csv"), "other");
    Failure failure = assertThrows(Failure.class, () -> paths("", "one.csv", "out"));
    assertTrue(failure.getMessage().contains("Two files would become one.csv"));
  }

  @Test
  void whatDoesNotExistIsTold() {
    Failure failure = assertThrows(Failure.class, () -> paths("", "none"));
    assertEquals(Failure.Kind.USAGE, failure.kind());
  }

  @ParameterizedTest
  @ValueSource(strings = {"..", "daily/../other", "./daily", "/../x/"})
  void aFolderOutsideOfTheDepotIsNone(String under) {
    assertThrows(Failure.class, () -> LocalFiles.find(List.of(), under, file -> true));
  }
}
