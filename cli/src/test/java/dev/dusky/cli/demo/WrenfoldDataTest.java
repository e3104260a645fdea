package dev.dusky.cli.demo;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WrenfoldDataTest {

  @TempDir Path folder;

  private List<Path> files(String name) throws IOException {
    try (Stream<Path> files = Files.walk(folder.resolve(name))) {
      return files.filter(Files::isRegularFile).sorted().toList();
    }
  }

  private void write(String name, long seed, int dockets) throws IOException {
    new WrenfoldData(seed, dockets)
        .write(folder.resolve(name).resolve("outbox"), folder.resolve(name).resolve("late"));
  }

  @Test
  void theSameSeedMakesTheSameFiles() throws IOException {
    write("a", 7, 60);
    write("b", 7, 60);
    List<Path> a = files("a");
    List<Path> b = files("b");
    assertEquals(19, a.size());
    for (int i = 0; i < a.size(); i++) {
      assertArrayEquals(Files.readAllBytes(a.get(i)), Files.readAllBytes(b.get(i)));
    }
  }

  @Test
  void oneHourIsSentTwiceAndOneComesLate() throws IOException {
    write("a", 7, 60);
    Path day = folder.resolve("a/outbox/collections/2026-03-02");
    assertEquals(-1, Files.mismatch(day.resolve("07.csv.gz"), day.resolve("07-sent-again.csv.gz")));
    assertEquals(
        List.of(folder.resolve("a/late/collections/2026-03-02/10.csv.gz")), files("a/late"));
  }

  @Test
  void theNumberOfDocketsScales() throws IOException {
    write("small", 7, 40);
    write("large", 7, 4000);
    Path hour = Path.of("outbox/collections/2026-03-03/07.csv.gz");
    long small = lines(folder.resolve("small").resolve(hour));
    long large = lines(folder.resolve("large").resolve(hour));
    assertTrue(small > 35 && small < 50, () -> "" + small);
    assertTrue(large > 3700 && large < 4300, () -> "" + large);
  }

  private static long lines(Path file) throws IOException {
    try (GZIPInputStream in = new GZIPInputStream(Files.newInputStream(file))) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8).lines().count();
    }
  }
}
