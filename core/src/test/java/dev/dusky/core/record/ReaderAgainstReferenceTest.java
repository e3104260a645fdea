package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;

import dev.dusky.core.layout.DelimitedLayout;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Random tables, written in random style, must come back as they were, whatever the buffer. */
class ReaderAgainstReferenceTest {

  private static final String[] PIECES = {
    "a", "bc", "\"", ",", "\n", "ä", "longer text of some words", " ", "|", "'", "0", "😀", ";;"
  };

  @ParameterizedTest
  @ValueSource(strings = {",", "|", ";;"})
  void tablesComeBack(String delimiter) throws IOException {
    Random random = new Random(delimiter.hashCode());
    DelimitedLayout layout = Layouts.plain().with(l -> l.delimiter = delimiter).build();
    for (int round = 0; round < 300; round++) {
      List<List<String>> table = table(random);
      String end = random.nextBoolean() ? "\n" : "\r\n";
      String text =
          table.stream().map(row -> line(row, delimiter, random)).collect(Collectors.joining(end));
      if (random.nextBoolean()) {
        text += end;
      }
      byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
      int capacity = 8 + random.nextInt(400);
      List<ReadRecord> records = ReadRecord.all(bytes, layout, capacity);
      assertEquals(
          table, records.stream().map(ReadRecord::fields).toList(), "round " + round + ": " + text);
      for (ReadRecord record : records) {
        assertNull(record.fault());
        String raw = new String(record.raw(), StandardCharsets.UTF_8);
        assertEquals(
            raw,
            new String(bytes, (int) record.offset(), record.raw().length, StandardCharsets.UTF_8));
        String before = new String(bytes, 0, (int) record.offset(), StandardCharsets.UTF_8);
        assertEquals(1 + before.chars().filter(c -> c == '\n').count(), record.line());
      }
    }
  }

  private static List<List<String>> table(Random random) {
    int columns = 2 + random.nextInt(5);
    List<List<String>> table = new ArrayList<>();
    for (int r = 0; r < 1 + random.nextInt(30); r++) {
      List<String> row = new ArrayList<>();
      for (int c = 0; c < columns; c++) {
        StringBuilder field = new StringBuilder();
        for (int p = random.nextInt(4); p > 0; p--) {
          field.append(PIECES[random.nextInt(PIECES.length)]);
        }
        row.add(field.toString());
      }
      table.add(row);
    }
    return table;
  }

  private static String line(List<String> row, String delimiter, Random random) {
    return row.stream()
        .map(
            field -> {
              boolean needed =
                  field.contains(delimiter)
                      || field.contains(";")
                      || field.contains("\n")
                      || field.startsWith("\"");
              return needed || random.nextInt(5) == 0
                  ? '"' + field.replace("\"", "\"\"") + '"'
                  : field;
            })
        .collect(Collectors.joining(delimiter));
  }
}
