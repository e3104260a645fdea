package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.failure.Invocation;
import dev.dusky.depots.azure.AzureDepot;
import dev.dusky.depots.probe.Cause;
import dev.dusky.depots.probe.ConnectionCause;
import dev.dusky.depots.s3.S3Depot;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * The table of causes in docs/stores.md is made from the code: run with {@code -Dcauses.write=true}
 * to write it.
 */
class CausesDocTest {

  private static final Path DOCUMENT = Path.of("..", "docs", "stores.md");
  private static final String BEGIN = "<!-- causes: begin -->\n";
  private static final String END = "<!-- causes: end -->";

  @Test
  void theDocumentHasTheCausesOfTheCode() throws Exception {
    String document = Files.readString(DOCUMENT);
    int begin = document.indexOf(BEGIN) + BEGIN.length();
    int end = document.indexOf(END);
    String made =
        table("The S3 protocol", S3Depot.causes())
            + table("Azure", AzureDepot.causes())
            + connections();
    if (Boolean.getBoolean("causes.write")) {
      Files.writeString(DOCUMENT, document.substring(0, begin) + made + document.substring(end));
    } else {
      assertEquals(made, document.substring(begin, end));
    }
  }

  private static String table(String store, List<Cause> causes) {
    StringBuilder text = head(store);
    for (Cause cause : causes) {
      row(text, cause.when(), cause.what(), cause.why(), cause.hint().words(Invocation::toString));
    }
    return text.append('\n').toString();
  }

  private static String connections() {
    StringBuilder text = head("No answer");
    for (ConnectionCause cause : ConnectionCause.ALL) {
      row(text, cause.when(), "Depot {depot} cannot be reached", cause.why(), cause.hint());
    }
    return text.append('\n').toString();
  }

  private static StringBuilder head(String title) {
    return new StringBuilder("### ")
        .append(title)
        .append("\n\n| the store answers | we say | what to do |\n| --- | --- | --- |\n");
  }

  private static void row(StringBuilder text, String when, String what, String why, String hint) {
    text.append("| ")
        .append(cell(when))
        .append(" | ")
        .append(cell(why.isEmpty() ? what : what + ": " + why))
        .append(" | ")
        .append(cell(hint))
        .append(" |\n");
  }

  private static String cell(String text) {
    return text.replace("|", "\\|").replace("{", "*").replace("}", "*");
  }
}
