package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.reject.RejectCode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** No record over the limit is read, however large the batches are, and no other is lost for it. */
class RecordLimitTest {

  private static final int LIMIT = 1024;

  private static final DelimitedLayout DELIMITED =
      Layouts.plain().with(l -> l.recordLimit = LIMIT).build();

  private static JsonLayout json(JsonForm form) {
    JsonLayout plain = JsonLayout.plain("j");
    return new JsonLayout(
        "j",
        form,
        plain.records(),
        plain.rows(),
        plain.emptyRows(),
        List.of(),
        Encoding.UTF_8,
        List.of(),
        LIMIT);
  }

  @ParameterizedTest
  @ValueSource(ints = {LIMIT + 1, 5_000, 60_000, 70_000, 200_000, 300_000, 1_000_000})
  void delimitedRecordsAreHeldToIt(int length) throws IOException {
    for (int capacity : List.of(256, 4_096, 256 << 10)) {
      String text = "1,a\n" + "x".repeat(length) + ",b\n" + "2,c\n3,\"d\ne\"\n";
      List<ReadRecord> records =
          ReadRecord.all(text.getBytes(StandardCharsets.UTF_8), DELIMITED, capacity);
      assertEquals(4, records.size(), "capacity " + capacity);
      assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(1).fault().code());
      assertEquals(2, records.get(1).line());
      assertEquals(List.of("2", "c"), records.get(2).fields());
      assertEquals(3, records.get(2).line());
      assertEquals(List.of("3", "d\ne"), records.get(3).fields());
      assertEquals(4 + length + 3, records.get(2).offset());
    }
  }

  @Test
  void whatStandsBeforeALargeRecordDoesNotMatter() throws IOException {
    for (int before = 0; before < 2_000; before += 37) {
      String text = "1,a\n".repeat(before) + "x".repeat(LIMIT) + "\n9,z\n";
      List<ReadRecord> records =
          ReadRecord.all(text.getBytes(StandardCharsets.UTF_8), DELIMITED, 256 << 10);
      assertEquals(before + 2, records.size());
      assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(before).fault().code());
      assertNull(records.get(before + 1).fault());
    }
  }

  @Test
  void quotedRecordsAndLinesOfJsonAndDocumentsAreHeldToIt() throws IOException {
    String large = "y".repeat(200_000);
    List<Layout> layouts = List.of(json(JsonForm.LINES), json(JsonForm.DOCUMENT));
    for (Layout layout : layouts) {
      String text = "{\"a\":1}\n{\"a\":\"" + large + "\"}\n{\"a\":3}\n";
      List<ReadRecord> records = ReadRecord.all(text, layout, "$.a");
      assertEquals(3, records.size());
      assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(1).fault().code());
      assertEquals(List.of("3"), records.get(2).fields());
    }
    List<ReadRecord> quoted = ReadRecord.all("1,\"" + large + "\"\n2,b\n", DELIMITED);
    assertEquals(List.of("2", "b"), quoted.get(quoted.size() - 1).fields());
    assertEquals(2, quoted.size());
  }

  @Test
  void aRecordJustOverASmallLimitIsARejectWithItsWholeRawBytes() throws IOException {
    for (int over = 0; over < 40; over++) {
      String value = "y".repeat(LIMIT - 8 + over);
      String text = "[{\"a\":\"" + value + "\"},{\"a\":2}]";
      List<ReadRecord> records = ReadRecord.all(text, json(JsonForm.DOCUMENT), "$.a");
      assertEquals(2, records.size());
      boolean large = value.length() + 8 > LIMIT;
      assertEquals(large, records.get(0).fault() != null, "over by " + over);
      assertEquals("{\"a\":\"" + value + "\"}", records.get(0).rawText());
    }
  }
}
