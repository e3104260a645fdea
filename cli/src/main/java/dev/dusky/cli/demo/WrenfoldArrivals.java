package dev.dusky.cli.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;

/** Files that arrive in waves: the first as expected, the second untimely, the third drifted. */
final class WrenfoldArrivals {

  private static final int READINGS = 288;

  private final Random random = new Random(11);

  /** Writes the waves into their own folders. */
  void write(Path root) throws IOException {
    String tenth = levels("2026-03-10", "", "");
    Path first = root.resolve("first");
    put(first, "levels/2026-03-10/tanks.csv", tenth);
    put(first, "washes/monday.jsonl", washes(12, ""));
    put(first, "coldrooms/monday.csv", "room,degrees\nK1,3.5\nK2,4.0\n");
    put(first, "passes/monday.csv", "pass_no,gate\n1,north\n2,south\n3,north\n");

    Path second = root.resolve("second");
    put(second, "levels/2026-03-09/tanks.csv", levels("2026-03-09", "", ""));
    put(second, "levels/2026-03-10/tanks-again.csv", tenth);
    put(second, "levels/2026-03-10/tanks.csv", tenth + "T3,2026-03-10 23:59:00,812.0\n");

    Path third = root.resolve("third");
    put(third, "levels/2026-03-11/tanks.csv", levels("2026-03-11", ",firmware", ",4.2.1"));
    put(
        third,
        "washes/tuesday.jsonl",
        washes(9, ",\"agent\":\"lye 2%\"")
            .replaceFirst("\"degrees\":[0-9.]+", "\"degrees\":\"hot\""));
    put(third, "coldrooms/tuesday.csv", "room,degrees,humidity\nK1,3.6,81\nK2,4.1,79\n");
    put(third, "passes/tuesday.csv", "pass_no,gate,driver\n4,north,R. Ames\n5,south,\n");
  }

  private String levels(String day, String moreNames, String moreValues) {
    StringBuilder text = new StringBuilder("tank,read_at,litres" + moreNames + "\n");
    for (int i = 0; i < READINGS; i++) {
      text.append("T%d,%s %02d:%02d:00,".formatted(1 + i % 3, day, i / 12, i % 12 * 5))
          .append(2_000 + random.nextInt(60_000))
          .append(".5")
          .append(moreValues)
          .append('\n');
    }
    return text.toString();
  }

  private String washes(int count, String more) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < count; i++) {
      text.append(
          "{\"tanker\":\"T%02d\",\"ended\":\"2026-03-10T%02d:40:00\",\"water\":{\"degrees\":%d.5}%s}\n"
              .formatted(1 + i % 8, 6 + i, 60 + random.nextInt(25), i % 3 == 1 ? more : ""));
    }
    return text.toString();
  }

  private static void put(Path root, String path, String text) throws IOException {
    Path file = root.resolve(path);
    Files.createDirectories(file.getParent());
    Files.writeString(file, text);
  }
}
