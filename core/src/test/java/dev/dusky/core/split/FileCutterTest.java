package dev.dusky.core.split;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.Layouts;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The parts of a file have its records, each once, in its order, byte for byte. */
class FileCutterTest {

  private static final long PART = 300_000;

  @TempDir Path folder;

  private List<Cut> cut(Path file, Layout layout) throws IOException {
    List<Cut> cuts = new ArrayList<>();
    new FileCutter("a", file, new RecordForm(layout, Optional.empty()), PART, cuts::add).run();
    return cuts;
  }

  private static List<String> records(Path file, Layout layout) throws IOException {
    List<String> records = new ArrayList<>();
    try (InputStream in = Files.newInputStream(file);
        RecordReader reader =
            Readers.open(
                SourceFile.of("a", new FileContent("a", in, ContentLimits.DEFAULT)),
                layout,
                FieldRequest.of(List.of()))) {
      RecordBatch batch = new RecordBatch(1 << 16);
      while (reader.read(batch)) {
        for (int r = 0; r < batch.records(); r++) {
          records.add(
              (batch.fault(r) == null ? "" : batch.fault(r).code() + " ")
                  + new String(batch.raw(r), StandardCharsets.ISO_8859_1));
        }
      }
    }
    return records;
  }

  private void checkParts(Path file, Layout layout, PartCompression compression)
      throws IOException {
    List<Cut> cuts = cut(file, layout);
    assertTrue(cuts.size() > 2, cuts.size() + " parts");
    byte[] whole = Files.readAllBytes(file);
    ByteArrayOutputStream together = new ByteArrayOutputStream();
    List<String> records = new ArrayList<>();
    for (Cut cut : cuts) {
      try (PartFile part = PartFile.write(file, cut, compression);
          InputStream in =
              new FileContent("p", Files.newInputStream(part.file()), ContentLimits.DEFAULT)) {
        byte[] bytes = in.readAllBytes();
        int head = (int) cut.head();
        assertArrayEquals(Arrays.copyOf(whole, head), Arrays.copyOf(bytes, head), "its head");
        together.write(
            bytes, cut.number() == 1 ? 0 : head, bytes.length - (cut.number() == 1 ? 0 : head));
        List<String> own = records(part.file(), layout);
        assertEquals(own.size(), cut.rows());
        records.addAll(own);
      }
    }
    assertArrayEquals(whole, together.toByteArray());
    assertEquals(records(file, layout), records);
  }

  private static String value(Random random) {
    return switch (random.nextInt(6)) {
      case 0 -> "\"a, \"\"quoted\"\"\nvalue on two lines\"";
      case 1 -> "";
      case 2 -> "é".repeat(random.nextInt(40));
      default -> Integer.toString(random.nextInt());
    };
  }

  @Test
  void delimitedRecordsStayWholeAndKeepTheirHeader() throws IOException {
    Random random = new Random(5);
    StringBuilder text = new StringBuilder("\ufeffa title\nid,name,more\r\n");
    for (int i = 0; text.length() < 1_500_000; i++) {
      text.append(i).append(',').append(value(random)).append(',').append(value(random));
      text.append(random.nextInt(500) == 0 ? ",too,many" : "");
      text.append(random.nextInt(900) == 0 ? "\n\n" : "\r\n");
    }
    Path file = Files.writeString(folder.resolve("a.csv"), text);
    DelimitedLayout layout =
        Layouts.plain()
            .with(
                l -> {
                  l.header = HeaderUse.NAMES;
                  l.skipLines = 1;
                })
            .build();
    checkParts(file, layout, PartCompression.ZSTD);
    checkParts(file, layout, PartCompression.NONE);
  }

  @Test
  void aRecordLargerThanAPartIsAPart() throws IOException {
    String large = "1,\"" + "x\n".repeat((int) PART) + "\"\n";
    Path file = Files.writeString(folder.resolve("a.csv"), "id,name\n" + large + large + large);
    checkParts(file, DelimitedLayout.plain("l"), PartCompression.GZIP);
  }

  @Test
  void jsonLinesAreCutAndDocumentsAreNot() throws IOException {
    StringBuilder text = new StringBuilder();
    Random random = new Random(6);
    for (int i = 0; text.length() < 1_200_000; i++) {
      text.append("{\"n\":").append(i).append(",\"t\":\"").append("y".repeat(random.nextInt(99)));
      text.append(random.nextInt(300) == 0 ? "}\n" : "\"}\n"); // some are malformed
    }
    Path lines = Files.writeString(folder.resolve("a.jsonl"), text);
    checkParts(lines, JsonLayout.plain("j"), PartCompression.ZSTD);
    Path document = Files.writeString(folder.resolve("a.json"), "[\n{\"n\":1},\n{\"n\":2}\n]\n");
    Failure failure = assertThrows(Failure.class, () -> cut(document, JsonLayout.plain("j")));
    assertTrue(failure.getMessage().contains("Only JSON lines are cut"), failure.getMessage());
  }

  @Test
  void otherKindsOfFilesAreNotCut() {
    ColumnarLayout parquet =
        new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20);
    Failure failure = assertThrows(Failure.class, () -> cut(folder.resolve("none"), parquet));
    assertTrue(failure.getMessage().contains("of kind parquet"), failure.getMessage());
  }

  @Test
  void theSameBytesGiveTheSamePart() throws IOException {
    Path file = Files.writeString(folder.resolve("a.csv"), "id\n1\n2\n");
    Cut cut = new Cut(1, 3, 3, 7, 2, java.util.Map.of());
    for (PartCompression compression : PartCompression.values()) {
      try (PartFile one = PartFile.write(file, cut, compression);
          PartFile two = PartFile.write(file, cut, compression)) {
        assertEquals(one.sha256(), two.sha256());
        assertArrayEquals(Files.readAllBytes(one.file()), Files.readAllBytes(two.file()));
      }
    }
  }

  @Test
  void partsAreNamedInTheOrderInWhichTheyLoad() {
    PartNames names = new PartNames("daily/06.csv.gz", true, 12_345, PartCompression.ZSTD);
    assertEquals("daily/06-00002.csv.zst", names.part(2));
    assertTrue(names.part(9).compareTo(names.part(10)) < 0);
    assertEquals("a.d/x.zst", new PartNames("a.d/x", false, 1, PartCompression.ZSTD).whole());
    assertEquals("x.csv.gz", new PartNames("x.csv.gz", false, 1, PartCompression.NONE).whole());
    assertEquals(".x-0001", new PartNames(".x", false, 1, PartCompression.NONE).part(1));
  }
}
