package dev.dusky.app.engine;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.warehouse.EngineSettings;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class InstallEngineTest {

  @TempDir Path folder;

  private static String first(String text, String pattern) {
    Matcher found = Pattern.compile(pattern, Pattern.DOTALL).matcher(text);
    assertTrue(found.find(), pattern + " in " + text);
    return found.group(1);
  }

  /** What is installed is what the engine's process was built and tested with. */
  @Test
  void theLibrariesAreThoseThatTheProcessIsBuiltWith() throws Exception {
    String installed;
    try (InputStream text = InstallEngine.class.getResourceAsStream("libraries.xml")) {
      installed = new String(text.readAllBytes(), StandardCharsets.UTF_8);
    }
    String built = Files.readString(Path.of("..", "engine-spark", "pom.xml"));
    String spark = first(built, "<spark.version>(.*?)</spark.version>");
    assertEquals(spark, first(installed, "spark-sql_2.12</artifactId>\\s*<version>(.*?)<"));
    assertTrue(spark.startsWith(EngineSettings.VERSION + "."), spark);
    String iceberg = first(built, "<iceberg.version>(.*?)</iceberg.version>");
    assertEquals(iceberg, first(installed, "runtime-3.5_2.12</artifactId>\\s*<version>(.*?)<"));
    assertEquals(
        iceberg,
        first(
            Files.readString(Path.of("..", "pom.xml")),
            "<iceberg.version>(.*?)</iceberg.version>"));
  }

  @Test
  void whatIsThereIsCounted() throws Exception {
    InstallEngine engine = new InstallEngine(folder.resolve("engine"));
    assertEquals(new InstallEngine.Libraries(0, 0), engine.libraries());
    Path jars = Files.createDirectories(folder.resolve("engine").resolve("jars"));
    Files.writeString(jars.resolve("a.jar"), "12345");
    Files.writeString(jars.resolve("b.jar"), "1234");
    Files.writeString(jars.resolve("readme.txt"), "no library");
    assertEquals(new InstallEngine.Libraries(2, 9), engine.libraries());
  }
}
