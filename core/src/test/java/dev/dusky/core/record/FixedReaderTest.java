package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;

import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedField.Alignment;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.RecordKinds;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.reject.RejectCode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class FixedReaderTest {

  private static FixedField left(String name, int start, int length) {
    return new FixedField(name, start, length, Alignment.LEFT, ' ', "");
  }

  private static FixedField right(String name, int start, int length, char pad) {
    return new FixedField(name, start, length, Alignment.RIGHT, pad, "");
  }

  private static FixedLayout layout(
      int recordLength, RecordKinds kinds, ShortRecords shorter, FixedField... fields) {
    return new FixedLayout(
        "f",
        List.of(fields),
        recordLength,
        Optional.ofNullable(kinds),
        0,
        shorter,
        Encoding.UTF_8,
        List.of(""),
        4096);
  }

  private static FixedLayout lines(FixedField... fields) {
    return layout(0, null, ShortRecords.REJECT, fields);
  }

  private static List<List<String>> fields(String text, FixedLayout layout) throws IOException {
    List<ReadRecord> records = ReadRecord.all(text, layout);
    records.forEach(r -> assertNull(r.fault(), () -> r.rawText() + ": " + r.fault()));
    return records.stream().map(ReadRecord::fields).toList();
  }

  @Test
  void fieldsStandAtTheirPlacesWithoutPadding() throws IOException {
    FixedLayout layout =
        lines(left("code", 1, 5), right("litres", 6, 7, ' '), right("grade", 13, 3, '0'));
    assertEquals(
        List.of(
            List.of("T01", "812.5", "7"),
            List.of("T0002", "1234567", "0"),
            List.of("a b", "1", "100")),
        fields("T01    812.5007\nT00021234567000\r\na b        1100\n", layout));
  }

  @Test
  void fieldsMayOverlapAndLeaveGaps() throws IOException {
    FixedLayout layout = lines(left("all", 1, 6), left("tail", 4, 3), left("far", 9, 1));
    assertEquals(List.of(List.of("abcdef", "def", "X")), fields("abcdef--X\n", layout));
  }

  @Test
  void placesCountCharactersAndNotBytes() throws IOException {
    FixedLayout layout = lines(left("a", 1, 4), left("b", 5, 3));
    assertEquals(
        List.of(List.of("Prés", "xyz"), List.of("日本語", "é"), List.of("abcd", "efg")),
        fields("Présxyz\n日本語 é  \nabcdefg\n", layout));
  }

  @Test
  void otherEncodingsAreBroughtIntoOneForm() throws IOException {
    FixedLayout base = lines(left("a", 1, 4), left("b", 5, 3));
    FixedLayout latin =
        new FixedLayout(
            "f",
            base.fields(),
            0,
            Optional.empty(),
            0,
            ShortRecords.REJECT,
            Encoding.ISO_8859_1,
            List.of(""),
            4096);
    byte[] bytes = "Présxyz\nabcdefg\n".getBytes(StandardCharsets.ISO_8859_1);
    List<ReadRecord> records = ReadRecord.all(bytes, latin);
    assertEquals(List.of("Prés", "xyz"), records.get(0).fields());
    assertEquals(7, records.get(0).raw().length);
    assertEquals(8, records.get(1).offset());
  }

  @Test
  void emptyFieldsHaveNoText() throws IOException {
    FixedLayout layout = lines(left("a", 1, 3), right("b", 4, 3, ' '), left("c", 7, 1));
    assertEquals(List.of(Arrays.asList(null, null, "x")), fields("      x\n", layout));
  }

  @Test
  void aShortRecordIsARejectOrFilled() throws IOException {
    ReadRecord record =
        ReadRecord.all("abc\nabcdef\n", lines(left("a", 1, 3), left("b", 4, 3))).get(0);
    assertEquals(RejectCode.TOO_FEW_FIELDS, record.fault().code());
    assertEquals("the record has 3 characters, its fields need 6", record.fault().message());
    FixedLayout fill =
        layout(0, null, ShortRecords.FILL, left("a", 1, 3), left("b", 4, 3), left("c", 7, 2));
    assertEquals(
        List.of(
            Arrays.asList("abc", null, null),
            Arrays.asList("abc", "d", null),
            Arrays.asList("é", null, null)),
        fields("abc\nabcd\né\n", fill));
  }

  @Test
  void recordsOfAGivenLengthNeedNoLineEnds() throws IOException {
    FixedLayout layout = layout(5, null, ShortRecords.REJECT, left("a", 1, 2), left("b", 3, 3));
    assertEquals(
        List.of(List.of("ab", "cde"), List.of("fg", "hij"), List.of("kl", "mno")),
        fields("abcdefghijklmno", layout));
    assertEquals(
        List.of(List.of("ab", "cde"), List.of("fg", "hij"), List.of("é日", "xyz")),
        fields("abcde\nfghij\r\né日xyz\n", layout));
  }

  @Test
  void aRecordCutShortAtTheEndIsAReject() throws IOException {
    FixedLayout layout = layout(5, null, ShortRecords.REJECT, left("a", 1, 2), left("b", 3, 3));
    List<ReadRecord> records = ReadRecord.all("abcdefg", layout);
    assertEquals(2, records.size());
    assertEquals(RejectCode.TOO_FEW_FIELDS, records.get(1).fault().code());
  }

  @Test
  void severalKindsAreToldApart() throws IOException {
    FixedLayout layout =
        layout(
            0,
            new RecordKinds(1, 1, List.of("D", "E"), List.of("T")),
            ShortRecords.REJECT,
            new FixedField("day", 2, 8, Alignment.LEFT, ' ', "H"),
            left("code", 2, 3),
            right("n", 5, 4, '0'));
    String text = "H20260302\nDT010005\nET020007\nT000002\nH20260303\nDT030001\n";
    assertEquals(
        List.of(
            List.of("20260302", "T01", "5"),
            List.of("20260302", "T02", "7"),
            List.of("20260303", "T03", "1")),
        fields(text, layout));
  }

  @Test
  void whatIsCarriedReachesLaterBatches() throws IOException {
    FixedLayout layout =
        layout(
            0,
            new RecordKinds(1, 1, List.of("D"), List.of()),
            ShortRecords.REJECT,
            new FixedField("day", 2, 8, Alignment.LEFT, ' ', "H"),
            right("n", 2, 6, '0'));
    StringBuilder text = new StringBuilder("H20260302\n");
    for (int i = 0; i < 2_000; i++) {
      text.append("D%06d\n".formatted(i));
      if (i == 999) {
        text.append("H20260303\n");
      }
    }
    List<ReadRecord> records = ReadRecord.all(text.toString(), layout);
    assertEquals(2_000, records.size());
    for (int i = 0; i < 2_000; i++) {
      String day = i < 1_000 ? "20260302" : "20260303";
      assertEquals(List.of(day, Integer.toString(i)), records.get(i).fields());
      assertEquals("D%06d".formatted(i), records.get(i).rawText());
      assertEquals(10 + i * 8L + (i < 1_000 ? 0 : 10), records.get(i).offset());
    }
  }

  @Test
  void anUnknownKindIsAReject() throws IOException {
    FixedLayout layout =
        layout(
            0,
            new RecordKinds(1, 1, List.of("D"), List.of("T")),
            ShortRecords.REJECT,
            left("code", 2, 3));
    List<ReadRecord> records = ReadRecord.all("DT01\nXT02\nT\nDT03\n", layout);
    assertEquals(3, records.size());
    assertEquals(RejectCode.UNKNOWN_KIND, records.get(1).fault().code());
    assertEquals(
        "the record is of kind 'X', which the layout does not name",
        records.get(1).fault().message());
    assertEquals(List.of("T03"), records.get(2).fields());
  }

  @Test
  void positionsAreThoseOfTheFile() throws IOException {
    List<ReadRecord> records = ReadRecord.all("abc\n\ndef\r\nghi", lines(left("a", 1, 3)));
    assertEquals(List.of(1L, 3L, 4L), records.stream().map(ReadRecord::line).toList());
    assertEquals(List.of(0L, 5L, 10L), records.stream().map(ReadRecord::offset).toList());
    assertEquals("def", records.get(1).rawText());
  }

  @Test
  void aLineWithoutEndIsAReject() throws IOException {
    List<ReadRecord> records =
        ReadRecord.all("x".repeat(10_000) + "\nabc\n", lines(left("a", 1, 3)));
    assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(0).fault().code());
    assertEquals(List.of("abc"), records.get(1).fields());
  }

  @Test
  void linesAreSkippedAtTheBeginning() throws IOException {
    FixedLayout base = lines(left("a", 1, 3));
    FixedLayout skipping =
        new FixedLayout(
            "f",
            base.fields(),
            0,
            Optional.empty(),
            2,
            ShortRecords.REJECT,
            Encoding.UTF_8,
            List.of(""),
            4096);
    List<ReadRecord> records = ReadRecord.all("TITLE\n-----\nabc\n", skipping);
    assertEquals(1, records.size());
    assertEquals(3, records.get(0).line());
  }

  @Test
  void theLayoutNamesTheFields() throws IOException {
    try (RecordReader reader =
        Readers.open(
            SourceFile.of(
                "f", new java.io.ByteArrayInputStream("abc".getBytes(StandardCharsets.US_ASCII))),
            lines(left("a", 1, 1), left("b", 2, 2)),
            FieldRequest.of(List.of()))) {
      assertEquals(List.of("a", "b"), reader.names());
    }
  }
}
