package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The examples of docs/layouts.md, one for each layout, load as they are there. */
class ExamplesIT {

  private static final Path EXAMPLES = Path.of("..", "docs", "examples");

  @TempDir Path folder;

  private Program copied() throws IOException {
    try (Stream<Path> files = Files.walk(EXAMPLES)) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        Path to = folder.resolve(EXAMPLES.relativize(file).toString());
        Files.createDirectories(to.getParent());
        Files.copy(file, to);
      }
    }
    return Program.within(folder);
  }

  private static String ask(Program dusky, String sql) throws Exception {
    return dusky.run("sql", "--json", sql).expect(0).out().strip();
  }

  @Test
  void everyExampleLoadsAndBalances() throws Exception {
    Program dusky = copied();
    Run load = dusky.run("load").expect(0);
    assertFalse(load.all().contains("refused"), load.all());
    assertFalse(load.out().matches("(?s).*rejected [1-9].*"), load.out());
    dusky.run("balance").expect(0);
    assertEquals(
        "{\"docket_no\":480001,\"route_code\":\"R5\",\"round_day\":\"2026-03-02\",\"file_name\":\"05.csv\"}",
        ask(
            dusky,
            "select docket_no, route_code, round_day, file_name from intake.collection"
                + " where docket_no = 480001"));
    assertEquals(
        "{\"tanker\":\"T02\",\"capacity\":15500,\"as_of\":\"2026-03-01\"}",
        ask(dusky, "select tanker, capacity, as_of from intake.tanker where tanker = 'T02'"));
    assertEquals(
        "{\"n\":4,\"s\":9408.28}",
        ask(dusky, "select count(*) as n, sum(measure) as s from intake.assay_result"));
    assertEquals(
        "{\"export_id\":\"2026-03-02/a\",\"tags\":\"[\\\"organic\\\",\\\"hill\\\"]\"}",
        ask(dusky, "select export_id, tags from intake.farm_export where herd = 400"));
    assertEquals(
        "{\"name\":\"Prés Brook\",\"owner_name\":\"Ada Weir\"}",
        ask(dusky, "select name, owner_name from intake.farm where code = 'WF0001'"));
    assertEquals(
        "{\"valid_from\":\"2026-03-01\",\"total\":0.4680}",
        ask(dusky, "select valid_from, total from intake.price where grade = 'organic A'"));
    assertEquals("{\"n\":130}", ask(dusky, "select count(*) as n from intake.price_history"));
    assertEquals(
        "{\"n\":500,\"f\":12525.0}",
        ask(dusky, "select count(*) as n, sum(first) as f from intake.avro_assay"));
    assertEquals(
        "{\"weight\":22450.5}",
        ask(
            dusky,
            "select weight from intake.scale where axles is not null order by at desc fetch first row only"));
    assertEquals(
        "{\"n\":3,\"s\":34}",
        ask(dusky, "select count(*) as n, sum(stops) as s from intake.route"));
  }

  @Test
  void theDocumentShowsTheLinesOfTheExamples() throws IOException {
    List<String> document = Files.readAllLines(Path.of("..", "docs", "layouts.md"));
    List<String> configuration =
        Files.readAllLines(EXAMPLES.resolve("dusky.yaml")).stream().map(String::strip).toList();
    boolean yaml = false;
    int shown = 0;
    for (String line : document) {
      if (line.startsWith("```")) {
        yaml = line.equals("```yaml");
      } else if (yaml && !line.isBlank()) {
        assertTrue(configuration.contains(line.strip()), () -> "not in the examples: " + line);
        shown++;
      }
    }
    assertTrue(shown > 60, "lines shown: " + shown);
  }
}
