package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.cli.command.CommandRunner;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/** Runs the examples of docs/merging.md and holds what comes out against what it says. */
class MergingDocTest {

  @TempDir Path folder;

  @TestFactory
  Stream<DynamicTest> everyExampleComesOutAsItSays() throws IOException {
    String text = Files.readString(Path.of("../docs/merging.md"));
    List<String> sections =
        Arrays.stream(text.split("\n## ")).filter(s -> s.contains("```yaml")).toList();
    assertTrue(sections.size() >= 9, "examples in the document: " + sections.size());
    return sections.stream()
        .map(s -> DynamicTest.dynamicTest(s.lines().findFirst().get(), () -> new Example(s).run()));
  }

  /** One section, followed line by line. */
  private final class Example {
    private final List<String> lines;
    private final Path home;
    private final Map<String, String> feeds = new LinkedHashMap<>();
    private final Map<String, String> tallies = new LinkedHashMap<>();
    private final String merges;
    private boolean landed;
    private int files;

    Example(String section) throws IOException {
      lines = section.lines().toList();
      home = Files.createTempDirectory(folder, "example");
      int from = section.indexOf("```yaml") + 7;
      merges = section.substring(from, section.indexOf("```", from));
    }

    void run() throws IOException {
      int checked = 0;
      for (int i = 0; i < lines.size(); i++) {
        String line = lines.get(i);
        if (line.startsWith("Lands in ")) {
          land(line.substring(9, line.length() - 1), table(i + 2));
        } else if (line.startsWith("Tally of ")) {
          merge();
          String name = line.substring(9, line.indexOf(':'));
          assertEquals(line.substring(line.indexOf(':') + 2), tallies.get(name), line);
          checked++;
        } else if (line.startsWith("Target ")) {
          merge();
          target(line.substring(7, line.length() - 1), table(i + 2));
          checked++;
        }
      }
      assertTrue(checked >= 2, "an example that tells nothing");
    }

    /** The cells of the table that begins at that line, its header first. */
    private List<List<String>> table(int from) {
      List<List<String>> rows = new ArrayList<>();
      for (int i = from; i < lines.size() && lines.get(i).startsWith("|"); i++) {
        if (i != from + 1) {
          String[] cells = lines.get(i).substring(1).split("\\|", -1);
          rows.add(Arrays.stream(cells, 0, cells.length - 1).map(String::strip).toList());
        }
      }
      return rows;
    }

    private void land(String table, List<List<String>> rows) throws IOException {
      String name = table.substring(table.indexOf('.') + 1);
      String columns =
          rows.get(0).stream()
              .map(
                  c ->
                      c.substring(0, c.indexOf(' '))
                          + ": \""
                          + c.substring(c.indexOf(' ') + 1)
                          + "\"")
              .collect(Collectors.joining(", "));
      feeds.put(
          name,
          "  %s: { depot: yard, files: \"%s/*.csv\", layout: csv, into: %s, create: true, columns: { %s } }\n"
              .formatted(name, name, table, columns));
      Path file = home.resolve("%s/%03d.csv".formatted(name, ++files));
      Files.createDirectories(file.getParent());
      String header =
          rows.get(0).stream()
              .map(c -> c.substring(0, c.indexOf(' ')))
              .collect(Collectors.joining(","));
      Files.writeString(
          file,
          header
              + "\n"
              + rows.stream()
                  .skip(1)
                  .map(r -> String.join(",", r))
                  .collect(Collectors.joining("\n"))
              + "\n");
      landed = true;
    }

    private void merge() throws IOException {
      if (!landed) {
        return;
      }
      landed = false;
      Files.writeString(
          home.resolve("dusky.yaml"),
          "warehouse: jdbc:h2:file:./warehouse\ndepots: { yard: \"file:.\" }\n"
              + "layouts: { csv: { kind: delimited, nulls: [\"\"] } }\nfeeds:\n"
              + String.join("", feeds.values())
              + merges);
      dusky("load");
      for (JsonNode event : dusky("merge", "--json")) {
        if (event.path("event").asText().equals("merge") && event.has("inserted")) {
          StringBuilder sum = new StringBuilder("landed " + event.get("landed") + " =");
          for (String part :
              List.of("inserted", "updated", "unchanged", "superseded", "deleted", "rejected")) {
            sum.append(sum.toString().endsWith("=") ? " " : " + ").append(part);
            sum.append(' ').append(event.get(part));
          }
          tallies.put(event.get("merge").asText(), sum.toString());
        }
      }
      assertEquals(List.of(), failures(dusky("balance", "--json")), "balance");
    }

    private static List<JsonNode> failures(List<JsonNode> proofs) {
      return proofs.stream().filter(p -> p.has("agrees") && !p.get("agrees").asBoolean()).toList();
    }

    private void target(String table, List<List<String>> rows) throws IOException {
      String columns = String.join(", ", rows.get(0));
      String order = rows.get(0).contains("valid_from") ? rows.get(0).get(0) + ", valid_from" : "1";
      List<List<String>> found = new ArrayList<>();
      for (JsonNode row :
          dusky(
              "sql", "--json", "select %s from %s order by %s".formatted(columns, table, order))) {
        List<String> cells = new ArrayList<>();
        row.elements().forEachRemaining(v -> cells.add(v.isNull() ? "" : v.asText()));
        found.add(cells);
      }
      assertEquals(rows.subList(1, rows.size()), found, "Target " + table);
    }

    private List<JsonNode> dusky(String... arguments) throws IOException {
      List<String> all = new ArrayList<>(List.of(arguments));
      all.add("--directory=" + home);
      PrintStream out = System.out;
      ByteArrayOutputStream bytes = new ByteArrayOutputStream();
      int code;
      try (PrintStream captured = new PrintStream(bytes, true, StandardCharsets.UTF_8)) {
        System.setOut(captured);
        code = CommandRunner.commandLine().execute(all.toArray(String[]::new));
      } finally {
        System.setOut(out);
      }
      assertTrue(code == 0 || code == 1, () -> all + " ended with " + code + ": " + bytes);
      ObjectMapper mapper = new ObjectMapper();
      List<JsonNode> events = new ArrayList<>();
      for (String line : bytes.toString(StandardCharsets.UTF_8).split("\n")) {
        if (line.startsWith("{")) {
          events.add(mapper.readTree(line));
        }
      }
      return events;
    }
  }
}
