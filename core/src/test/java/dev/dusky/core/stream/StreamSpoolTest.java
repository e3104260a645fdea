package dev.dusky.core.stream;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class StreamSpoolTest {

  private static final StreamName NAME = new StreamName("events/{date}/{n}.jsonl");

  @TempDir Path folder;

  private static void append(SpoolFile file, String text) throws IOException {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    file.append(Arrays.copyOf(bytes, bytes.length + 8), 0, bytes.length);
  }

  /** Whatever the pieces, records and whole bytes are those of the text, also when read again. */
  @Test
  void recordsAreCountedHoweverTheyCome() throws IOException {
    Random random = new Random(8);
    for (int round = 0; round < 200; round++) {
      StringBuilder text = new StringBuilder();
      Path path = folder.resolve(round + ".open");
      try (SpoolFile file = SpoolFile.create(path)) {
        for (int piece = 0; piece < 8; piece++) {
          String more = "abc\n\nde".repeat(random.nextInt(4)).substring(0);
          more = more.substring(0, random.nextInt(more.length() + 1));
          append(file, more);
          text.append(more);
          check(file, text.toString());
        }
      }
      try (SpoolFile again = SpoolFile.left(path)) {
        check(again, text.toString());
        try (SpoolFile next = SpoolFile.create(folder.resolve(round + ".next"))) {
          append(next, "x\n");
          again.moveRest(next);
          String rest = text.substring(text.lastIndexOf("\n") + 1);
          check(next, "x\n" + rest);
          check(again, text.substring(0, text.length() - rest.length()));
        }
      }
    }
  }

  private static void check(SpoolFile file, String text) {
    assertEquals(text.chars().filter(c -> c == '\n').count(), file.records(), text);
    assertEquals(text.lastIndexOf('\n') + 1, file.whole(), text);
    assertEquals(text.length() - text.lastIndexOf('\n') - 1, file.rest(), text);
  }

  @Test
  void numbersAreNeverGivenTwice() throws IOException {
    Set<String> names = new HashSet<>();
    for (int run = 0; run < 5; run++) {
      try (StreamSpool spool = StreamSpool.open(folder, NAME)) {
        SpoolFile one = spool.create();
        SpoolFile two = spool.create();
        append(one, "a\n");
        StreamSpool.Ready ready = spool.complete(one);
        assertTrue(names.add(ready.path()), ready.path());
        assertTrue(names.add(two.path().toString()));
        if (run % 2 == 0) {
          spool.sent(ready);
        }
        two.close();
      }
    }
    try (StreamSpool spool = StreamSpool.open(folder, NAME)) {
      List<StreamSpool.Ready> ready = spool.ready();
      assertEquals(2, ready.size(), "those that were not sent");
      assertTrue(names.containsAll(ready.stream().map(StreamSpool.Ready::path).toList()));
      assertEquals(5, spool.left().size());
    }
  }

  @Test
  void oneProcessHoldsTheFolder() throws IOException {
    try (StreamSpool spool = StreamSpool.open(folder, NAME)) {
      Failure failure = assertThrows(Failure.class, () -> StreamSpool.open(folder, NAME));
      assertTrue(failure.getMessage().contains("in use"), failure.getMessage());
      assertTrue(spool.ready().isEmpty());
    }
    StreamSpool.open(folder, NAME).close();
  }

  @Test
  void theBeginningOfARecordIsKeptAside() throws IOException {
    try (StreamSpool spool = StreamSpool.open(folder, NAME)) {
      SpoolFile file = spool.create();
      append(file, "a\nbeginning of");
      Path cut = spool.keepCut(file);
      assertEquals("beginning of", Files.readString(cut));
      assertEquals(1, file.records());
      assertEquals("a\n", Files.readString(spool.complete(file).file()));
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"events/x.jsonl", "{n}/{day}.csv", "{n}}"})
  void namesThatCannotBeTakenApartAreRefused(String template) {
    assertThrows(Failure.class, () -> new StreamName(template));
  }
}
