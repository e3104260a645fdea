package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The examples of docs/stores.md are good configurations, and it has every key. */
class StoresDocTest {

  private static final Path DOCUMENT = Path.of("..", "docs", "stores.md");

  @TempDir Path folder;

  @Test
  void eachExampleIsAGoodConfiguration() throws Exception {
    Matcher example =
        Pattern.compile("(?ms)^```yaml\\n(.*?)^```").matcher(Files.readString(DOCUMENT));
    int examples = 0;
    while (example.find()) {
      Path file =
          Files.writeString(
              folder.resolve("dusky.yaml"),
              "warehouse: jdbc:h2:file:./warehouse\n" + example.group(1));
      Configuration configuration = Configuration.read(file);
      assertTrue(!configuration.depots().isEmpty() || configuration.watch().notices().isPresent());
      examples++;
    }
    assertEquals(6, examples);
  }

  /** The keys that the reader knows are those that it lists where one is unknown. */
  @Test
  void everyKeyOfADepotIsThere() throws Exception {
    String document = Files.readString(DOCUMENT);
    Path file =
        Files.writeString(
            folder.resolve("dusky.yaml"),
            "warehouse: jdbc:h2:file:./w\ndepots: { yard: { at: \"s3://b\", zzzzzzzzzz: 1 } }\n");
    String message = assertThrows(Failure.class, () -> Configuration.read(file)).getMessage();
    String known = message.replaceAll("(?s).*known are (.*?)\\.?\\s*$", "$1");
    assertTrue(known.contains("part-size"), message);
    for (String key : known.split("[\\s,.]+")) {
      assertTrue(document.contains(key), key + " is missing in docs/stores.md: " + message);
    }
  }
}
