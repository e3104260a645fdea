package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A drafted feed is added to the configuration, and all else about the file stays. */
class ConfigurationFileTest {

  private static final String TEXT =
      "# ours\r\nwarehouse: jdbc:h2:mem:x\r\ndepots: { yard: \"file:.\" }\r\n";

  @TempDir Path folder;

  private Feed feed() throws IOException {
    Path other =
        Files.writeString(
            folder.resolve("other.yaml"),
            """
            warehouse: jdbc:h2:mem:x
            depots: { yard: "file:." }
            feeds:
              a: { depot: yard, files: "*.csv", layout: { kind: delimited }, into: x.a, columns: { n: integer } }
            """);
    return Configuration.read(other).feed("a");
  }

  @Test
  void linkRightsAndLineEndsStay() throws IOException {
    Path home = Files.createDirectory(folder.resolve("home"));
    Path real = Files.writeString(home.resolve("real.yaml"), TEXT);
    Files.setPosixFilePermissions(real, PosixFilePermissions.fromString("rw-------"));
    Path link = Files.createSymbolicLink(folder.resolve("dusky.yaml"), real);
    ConfigurationFile file = ConfigurationFile.read(link);
    file.add(feed(), HabitDraft.NONE);
    file.write();
    assertTrue(Files.isSymbolicLink(link));
    String text = Files.readString(real);
    assertTrue(text.startsWith(TEXT), text);
    assertTrue(text.contains("feeds:\r\n  a:\r\n"), text);
    assertEquals(text.chars().filter(c -> c == '\n').count(), text.split("\r\n", -1).length - 1);
    assertEquals("rw-------", PosixFilePermissions.toString(Files.getPosixFilePermissions(real)));
    assertEquals("a", Configuration.read(link).feed("a").name());
    for (Path place : List.of(folder, home)) {
      try (var files = Files.list(place)) {
        assertFalse(files.anyMatch(f -> f.toString().endsWith(".new")), "nothing is left aside");
      }
    }
  }

  @Test
  void linesThatDoNotFitLeaveTheFileAlone() throws IOException {
    Path file = Files.writeString(folder.resolve("dusky.yaml"), TEXT + "feeds: { b: 1 }\r\n");
    ConfigurationFile drafted = ConfigurationFile.read(file);
    assertThrows(Failure.class, () -> drafted.add(feed(), HabitDraft.NONE));
    Path depotless = Files.writeString(folder.resolve("second.yaml"), "warehouse: jdbc:h2:mem:x\n");
    ConfigurationFile unsound = ConfigurationFile.read(depotless);
    unsound.add(feed(), HabitDraft.NONE);
    assertThrows(Failure.class, unsound::write);
    assertEquals("warehouse: jdbc:h2:mem:x\n", Files.readString(depotless));
  }
}
