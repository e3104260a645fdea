package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

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

  private static final Pattern BLOCK = Pattern.compile("(?ms)^```(\\w+) ?(.*?)\\n(.*?)^```");

  @TempDir Path folder;

  @Test
  void everyStepOfTheTutorialWorksAsItIsPrinted() throws Exception {
    assertEquals(11, follow(Program.within(folder), "first-hour.md"));
  }

  @Test
  void everyStepOfSourcesWorksAsItIsPrinted() throws Exception {
    assertEquals(15, follow(Program.within(folder), "sources.md"));
  }

  /** Follows a document and returns how many commands it has. */
  private int follow(Program dusky, String document) throws Exception {
    String text = Files.readString(Path.of("..", "docs", document));
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
          printed = dusky.run(words(body)).expect(code).out();
          commands++;
        }
        case "output" -> assertTrue(printed.contains(body), body + "\nis missing in\n" + printed);
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
