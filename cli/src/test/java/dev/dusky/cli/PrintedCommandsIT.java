package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Documents whose every file, command and output is as printed: the tutorial, and sources. */
class PrintedCommandsIT {

  private static final String BUCKET = "## 7. A bucket";
  private static final Pattern BLOCK = Pattern.compile("(?ms)^```(\\w+) ?(.*?)\\n(.*?)^```");

  @TempDir Path folder;

  @Test
  void everyStepOfTheTutorialWorksAsItIsPrinted() throws Exception {
    assertEquals(11, follow(Program.within(folder), before(BUCKET, text("first-hour.md"))));
  }

  /** The reader's bucket is one of the stand-in, which knows the temporary key of the text. */
  @Test
  void everyStepThroughABucketWorksAsItIsPrinted() throws Exception {
    Files.createDirectories(folder.resolve("buckets/wrenfold-intake"));
    Path work = Files.createDirectories(folder.resolve("work"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "other", "other", 0)) {
      store.accept("TEMPORARY", "temporary-secret", "temporary-token");
      Program dusky =
          new Program(work)
              .env("AWS_EC2_METADATA_DISABLED", "true")
              .env("AWS_SHARED_CREDENTIALS_FILE", work.resolve("none").toString());
      String text = text("first-hour.md");
      assertEquals(
          8,
          follow(
              dusky,
              text.substring(text.indexOf(BUCKET))
                  .replace("http://127.0.0.1:9420", store.endpoint())));
    }
  }

  @Test
  void everyStepOfSourcesWorksAsItIsPrinted() throws Exception {
    assertEquals(15, follow(Program.within(folder), text("sources.md")));
  }

  private static String text(String document) throws IOException {
    return Files.readString(Path.of("..", "docs", document));
  }

  private static String before(String heading, String text) {
    return text.substring(0, text.indexOf(heading));
  }

  /** Follows a document and returns how many commands it has. */
  private int follow(Program dusky, String text) throws Exception {
    Matcher block = BLOCK.matcher(text);
    String printed = "";
    int commands = 0;
    while (block.find()) {
      String about = block.group(2);
      String body = block.group(3).strip();
      switch (block.group(1)) {
        case "file" -> dusky.file(about, body + "\n");
        case "command" -> {
          int code = about.isEmpty() ? 0 : Integer.parseInt(about.replace("exit ", ""));
          printed = dusky.run(words(body)).expect(code).all();
          commands++;
        }
        case "output" -> assertTrue(printed.contains(body), body + "\nis missing in\n" + printed);
        case "environment" ->
            body.lines()
                .map(line -> line.split("=", 2))
                .forEach(pair -> dusky.env(pair[0], pair[1]));
        case "edit" -> edit(folder.resolve(about), body);
        default -> throw new AssertionError("unknown block " + block.group(1));
      }
    }
    return commands;
  }

  private static String[] words(String command) {
    List<String> words = new ArrayList<>();
    Matcher word = Pattern.compile("\"([^\"]*)\"|(\\S+)").matcher(command);
    while (word.find()) {
      words.add(word.group(1) != null ? word.group(1) : word.group(2));
    }
    assertEquals("dusky", words.remove(0));
    return words.toArray(String[]::new);
  }

  private static void edit(Path file, String change) throws Exception {
    String[] sides = change.split(" -> ");
    String before = Files.readString(file);
    assertTrue(before.contains(sides[0]), before);
    Files.writeString(file, before.replace(sides[0], sides[1]));
  }
}
