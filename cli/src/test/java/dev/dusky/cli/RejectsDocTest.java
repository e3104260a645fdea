package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.reject.RejectCode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** The catalogue of reject codes is closed, and documented whole. */
class RejectsDocTest {

  @Test
  void everyCodeHasItsEntryAndNoOtherHas() throws Exception {
    String text = Files.readString(Path.of("..", "docs", "rejects.md"));
    List<String> documented =
        Pattern.compile("(?m)^### `([a-z-]+)`$")
            .matcher(text)
            .results()
            .map(m -> m.group(1))
            .toList();
    assertEquals(
        Arrays.stream(RejectCode.values()).map(RejectCode::label).sorted().toList(),
        documented.stream().sorted().toList());
    for (String entry : text.substring(text.indexOf("### ")).split("(?m)^### ")) {
      for (String part : List.of("Meaning", "Example", "Causes", "Remedies")) {
        assertTrue(
            entry.isEmpty() || entry.contains("- **" + part + "**: "), () -> part + " of " + entry);
      }
    }
  }
}
