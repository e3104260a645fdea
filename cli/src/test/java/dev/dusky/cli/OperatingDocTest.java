package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.config.Configuration;
import dev.dusky.cli.command.CommandRunner;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** What docs/operating.md shows can be used as it is. */
class OperatingDocTest {

  private static final Path DOCS = Path.of("..", "docs").toAbsolutePath().normalize();

  @TempDir Path folder;

  /** Every command line in the runbook, the unit and the crontab is one that the program takes. */
  @Test
  void everyCommandShownIsOneThatThereIs() throws Exception {
    List<String> lines = new ArrayList<>();
    Pattern shown =
        Pattern.compile(
            "(?m)^(dusky [^#\\n]*)|(?:ExecStart=|&& )/opt/dusky/(dusky [^>\\n]*)|`(dusky [a-z][^`\\n]*)`");
    for (String file :
        List.of("operating.md", "examples/dusky-watch.service", "examples/dusky.crontab")) {
      Matcher match = shown.matcher(Files.readString(DOCS.resolve(file)));
      while (match.find()) {
        for (int group = 1; group <= 3; group++) {
          if (match.group(group) != null) {
            lines.add(match.group(group).strip());
          }
        }
      }
    }
    assertTrue(lines.size() > 15, lines.toString());
    for (String line : lines) {
      List<String> words = new ArrayList<>();
      Matcher word = Pattern.compile("\"([^\"]*)\"|(\\S+)").matcher(line.substring(6));
      while (word.find()) {
        words.add(word.group(1) == null ? word.group(2) : word.group(1));
      }
      CommandLine.ParseResult parsed =
          CommandRunner.commandLine().parseArgs(words.toArray(String[]::new));
      assertTrue(parsed.errors().isEmpty(), line);
    }
  }

  @Test
  void theExampleOfWatchingIsAGoodConfiguration() throws Exception {
    Matcher yaml =
        Pattern.compile("```yaml\n(watch:.*?)```", Pattern.DOTALL)
            .matcher(Files.readString(DOCS.resolve("operating.md")));
    assertTrue(yaml.find());
    String merges = yaml.group(1);
    Path file =
        Files.writeString(
            folder.resolve("dusky.yaml"),
            """
            warehouse: jdbc:h2:file:./warehouse
            depots: { yard: "file:./intake" }
            feeds:
              collections: { depot: yard, files: "*", layout: { kind: delimited }, into: intake.collection, columns: { docket_no: bigint } }
              levels: { depot: yard, files: "*", layout: { kind: delimited }, into: intake.level, columns: { tank: text, read_at: timestamp } }
            """
                + merges);
    assertEquals(2, Configuration.read(file).watch().merges().size());
  }

  /** Sections and directives of systemd.unit(5), systemd.service(5), systemd.exec(5). */
  @Test
  void theUnitHasOnlyWhatSystemdKnows() throws Exception {
    Set<String> known =
        Set.of(
            "Unit.Description",
            "Unit.Wants",
            "Unit.After",
            "Service.Type",
            "Service.User",
            "Service.WorkingDirectory",
            "Service.EnvironmentFile",
            "Service.ExecStart",
            "Service.KillSignal",
            "Service.TimeoutStopSec",
            "Service.SuccessExitStatus",
            "Service.Restart",
            "Service.RestartPreventExitStatus",
            "Service.RestartSec",
            "Service.NoNewPrivileges",
            "Service.ProtectSystem",
            "Service.ReadWritePaths",
            "Service.PrivateTmp",
            "Install.WantedBy");
    String section = "";
    int directives = 0;
    for (String line : Files.readAllLines(DOCS.resolve("examples/dusky-watch.service"))) {
      if (line.matches("\\[\\w+]")) {
        section = line.substring(1, line.length() - 1);
      } else if (!line.isBlank() && !line.startsWith("#")) {
        Matcher directive = Pattern.compile("(\\w+)=(\\S.*)").matcher(line);
        assertTrue(directive.matches(), line);
        assertTrue(known.contains(section + "." + directive.group(1)), line);
        directives++;
      }
    }
    assertEquals(known.size(), directives, "each of them once");
  }

  @Test
  void theCrontabsTimesAreTimes() throws Exception {
    String field = "(\\*(/\\d+)?|\\d+(-\\d+)?(,\\d+)*)";
    Pattern line = Pattern.compile("(%1$s\\s+){5}\\S.*".formatted(field));
    List<String> lines =
        Files.readAllLines(DOCS.resolve("examples/dusky.crontab")).stream()
            .filter(l -> !l.startsWith("#"))
            .toList();
    assertEquals(3, lines.size());
    for (String entry : lines) {
      assertTrue(line.matcher(entry).matches(), entry);
      assertTrue(!entry.contains("%"), "a percent sign ends a command in a crontab");
    }
  }
}
