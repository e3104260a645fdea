package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class JsonReaderTest {

  private static final JsonLayout PLAIN = JsonLayout.plain("j");

  private static JsonLayout layout(
      JsonForm form, String records, String rows, EmptyRows empty, String... carry) {
    return new JsonLayout(
        "j",
        form,
        Optional.ofNullable(records),
        Optional.ofNullable(rows),
        empty,
        List.of(carry),
        Encoding.UTF_8,
        List.of(),
        64 << 10);
  }

  private static List<List<String>> fields(String json, JsonLayout layout, String... paths)
      throws IOException {
    List<ReadRecord> records = ReadRecord.all(json, layout, paths);
    records.forEach(r -> assertNull(r.fault(), () -> r.rawText() + ": " + r.fault()));
    return records.stream().map(ReadRecord::fields).toList();
  }

  private static String refused(String json, JsonLayout layout, String... paths) {
    Failure failure = assertThrows(Failure.class, () -> ReadRecord.all(json, layout, paths));
    assertEquals(Failure.Kind.FILE, failure.kind());
    return failure.getMessage();
  }

  @Nested
  class Rest {

    private String rest(String json, String... paths) throws IOException {
      String[] all = Arrays.copyOf(paths, paths.length + 1);
      all[paths.length] = FieldRequest.REST;
      List<String> fields = fields(json, PLAIN, all).get(0);
      return fields.get(paths.length);
    }

    @Test
    void isWhatNobodyAskedForByItsPath() throws IOException {
      String json =
          "{\"a\":1,\"b\":{\"c\":2,\"d\":{\"e\":[3]},\"f\":null},\"g h\":\"\\u00e4\\n\",\"i.j\":true}";
      assertEquals(
          "{\"b.d\":{\"e\":[3]},\"g h\":\"\\u00e4\\n\",\"['i.j']\":true}",
          rest(json, "$.a", "$.b.c", "$.b.f"));
      assertNull(rest("{\"a\":1,\"b\":{\"c\":2}}", "$.a", "$.b"), "asked for as a whole");
      assertNull(rest("{\"a\":1,\"z\":null}", "a"), "nothing is nothing");
      assertEquals("{\"b\":7}", rest("{\"a\":1,\"b\":7}", "$.a", "$.b.c"), "no object any more");
      assertNull(rest("{\"a\":[1,2],\"b\":3}", "$.a[0]", "$..b"), "such paths take all below them");
    }

    @Test
    void ofRowsHasThatOfTheRecordAndThatOfTheElement() throws IOException {
      String json = "{\"id\":1,\"lab\":\"x\",\"results\":[{\"v\":1,\"unit\":\"g\"},{\"v\":2}]}";
      JsonLayout rows = layout(JsonForm.AUTO, null, "$.results", EmptyRows.NONE);
      assertEquals(
          List.of(
              Arrays.asList("1", "1", "{\"lab\":\"x\",\"results[*].unit\":\"g\"}"),
              Arrays.asList("1", "2", "{\"lab\":\"x\"}")),
          fields(json, rows, "$.id", "v", FieldRequest.REST));
    }
  }

  @Nested
  class Forms {

    @ParameterizedTest
    @ValueSource(
        strings = {
          "{\"a\":1,\"b\":\"x\"}\n{\"a\":2,\"b\":\"y\"}\n{\"a\":3,\"b\":\"z\"}\n",
          "{\"a\":1,\"b\":\"x\"}\r\r\n{\"a\":2,\"b\":\"y\"}\r\r\n{\"a\":3,\"b\":\"z\"}\r\r\n",
          "{\"a\":1,\"b\":\"x\"}\r\n\r\n{\"a\":2,\"b\":\"y\"}\r\n{\"a\":3,\"b\":\"z\"}",
          "[{\"a\":1,\"b\":\"x\"},{\"a\":2,\"b\":\"y\"},{\"a\":3,\"b\":\"z\"}]",
          "[\n  {\"a\": 1,\n   \"b\": \"x\"},\n  {\"a\": 2, \"b\": \"y\"},\n {\"a\": 3, \"b\": \"z\"}\n]\n",
          "{\"a\":1,\"b\":\"x\"}{\"a\":2,\"b\":\"y\"} {\"a\":3,\"b\":\"z\"}",
          "{\n \"a\": 1, \"b\": \"x\"\n}\n{\n \"a\": 2, \"b\": \"y\"\n}\n{\n \"a\": 3, \"b\": \"z\"\n}\n"
        })
    void areTold(String json) throws IOException {
      assertEquals(
          List.of(List.of("1", "x"), List.of("2", "y"), List.of("3", "z")),
          fields(json, PLAIN, "a", "b"));
    }

    @Test
    void linesOfArraysAreRecordsOfTheirOwn() throws IOException {
      assertEquals(
          List.of(List.of("1", "2"), List.of("3", "4")),
          fields("[1,2]\n[3,4]\n", PLAIN, "$[0]", "$[1]"));
    }

    @Test
    void recordsAreFoundInsideADocument() throws IOException {
      String json =
          "{\"meta\": {\"n\": 2, \"items\": [9]}, \"data\": {\"other\": [{\"id\": 7}],"
              + " \"items\": [{\"id\": 1}, {\"id\": 2, \"x\": [{\"id\": 3}]}]}, \"end\": true}";
      assertEquals(
          List.of(List.of("1"), List.of("2")),
          fields(json, layout(JsonForm.AUTO, "$.data.items[*]", null, EmptyRows.NONE), "id"));
      assertEquals(
          List.of(List.of("2")),
          fields(json, layout(JsonForm.AUTO, "$.data.items[1]", null, EmptyRows.NONE), "id"));
    }

    @Test
    void recordsCanBeTheMembersOfAnObject() throws IOException {
      assertEquals(
          List.of(List.of("1"), List.of("2")),
          fields(
              "{\"farms\": {\"a\": {\"n\": 1}, \"b\": {\"n\": 2}}}",
              layout(JsonForm.DOCUMENT, "$.farms[*]", null, EmptyRows.NONE),
              "n"));
    }

    @Test
    void theEnvelopeIsCarriedOntoEachRecord() throws IOException {
      String json =
          "{\"batch\": {\"id\": \"b\\u00e9\"}, \"made\": 7, \"rows\": [{\"n\": 1}, {\"n\": 2}]}"
              + "\n{\"batch\": {\"id\": \"c\"}, \"rows\": [{\"n\": 3}]}";
      assertEquals(
          List.of(
              Arrays.asList("bé", "7", "1"),
              Arrays.asList("bé", "7", "2"),
              Arrays.asList("c", null, "3")),
          fields(
              json,
              layout(JsonForm.DOCUMENT, "$.rows[*]", null, EmptyRows.NONE, "$.batch.id", "$.made"),
              "$.batch.id",
              "$.made",
              "n"));
    }

    @Test
    void whatStandsBehindTheRecordsCannotBeCarried() {
      String message =
          refused(
              "{\"rows\": [{\"n\": 1}], \"id\": 5}",
              layout(JsonForm.DOCUMENT, "$.rows[*]", null, EmptyRows.NONE, "$.id"),
              "n");
      assertTrue(message.contains("has $.id behind its records"), message);
    }

    @Test
    void aLargeDocumentIsReadInPieces() throws IOException {
      StringBuilder json = new StringBuilder("{\"rows\": [");
      for (int i = 0; i < 30_000; i++) {
        json.append(i == 0 ? "" : ",").append("{\"n\": ").append(i).append(", \"t\": \"row\"}");
      }
      List<ReadRecord> records =
          ReadRecord.all(
              json.append("]}").toString(),
              layout(JsonForm.DOCUMENT, "$.rows[*]", null, EmptyRows.NONE),
              "n");
      assertEquals(30_000, records.size());
      for (int i = 0; i < records.size(); i++) {
        assertEquals(List.of(Integer.toString(i)), records.get(i).fields());
        assertEquals("{\"n\": " + i + ", \"t\": \"row\"}", records.get(i).rawText());
      }
    }

    @Test
    void aByteOrderMarkAndOtherEncodingsAreUnderstood() throws IOException {
      byte[] marked = "\ufeff{\"a\":\"é\"}\n{\"a\":\"x\"}".getBytes(StandardCharsets.UTF_8);
      assertEquals(2, ReadRecord.all(marked, PLAIN, "a").size());
      byte[] wide = "\ufeff{\"a\":\"é\"}\n{\"a\":\"x\"}".getBytes(StandardCharsets.UTF_16LE);
      JsonLayout lines = layout(JsonForm.LINES, null, null, EmptyRows.NONE);
      List<ReadRecord> records = ReadRecord.all(wide, lines, "a");
      assertEquals(List.of("é"), records.get(0).fields());
      assertEquals(List.of("x"), records.get(1).fields());
    }
  }

  @Nested
  class Fields {

    @Test
    void areAddressedByNamesAndPaths() throws IOException {
      String json =
          "{\"a\": {\"b\": [10, {\"c\": \"deep\"}]}, \"x.y\": 1, \"n\": null, \"t\": true}\n{}\n";
      List<List<String>> rows =
          fields(json, PLAIN, "$.a.b[1].c", "$.a.b[-2]", "x.y", "n", "t", "none");
      assertEquals(Arrays.asList("deep", "10", "1", null, "true", null), rows.get(0));
      assertEquals(Arrays.asList(null, null, null, null, null, null), rows.get(1));
    }

    @Test
    void structuresLandAsTheyStand() throws IOException {
      String json = "{\"o\": {\"k\": 1.50, \"k\": 2},  \"l\": [1, 2 ], \"s\": \"x\\ny\"}";
      assertEquals(
          List.of(List.of("{\"k\": 1.50, \"k\": 2}", "[1, 2 ]", "\"x\\ny\"", "x\ny")),
          fields(json, PLAIN, "json:o", "json:l", "json:s", "s"));
    }

    @Test
    void severalNodesBecomeAnArrayWhereJsonIsWanted() throws IOException {
      String json = "{\"r\": [{\"n\": \"a\", \"v\": 1}, {\"n\": \"b\", \"v\": 2}]}";
      assertEquals(
          List.of(Arrays.asList("[1,2]", "2", null, "[]")),
          fields(
              json,
              PLAIN,
              "json:$.r[*].v",
              "$.r[?@.n == 'b'].v",
              "$.r[?@.n == 'c'].v",
              "json:$.r[?@.n == 'c'].v"));
    }

    @Test
    void severalValuesForOneColumnAreAReject() throws IOException {
      ReadRecord record = ReadRecord.all("{\"r\": [1, 2]}", PLAIN, "$.r[*]").get(0);
      assertEquals(RejectCode.SEVERAL_VALUES, record.fault().code());
      assertEquals("the path $.r[*] gives 2 values", record.fault().message());
    }

    @Test
    void aMemberThatStandsTwiceIsAReject() throws IOException {
      ReadRecord record = ReadRecord.all("{\"a\": 1, \"a\": 2, \"b\": 3}", PLAIN, "a").get(0);
      assertEquals(RejectCode.REPEATED_MEMBER, record.fault().code());
      assertEquals(List.of(List.of("3")), fields("{\"a\": 1, \"a\": 2, \"b\": 3}", PLAIN, "b"));
    }

    @Test
    void everyDigitIsKept() throws IOException {
      String digits = "123456789012345678901234567890.12345678901234567890";
      assertEquals(List.of(List.of(digits)), fields("{\"n\": " + digits + "}", PLAIN, "n"));
    }

    @Test
    void anEmptyTextIsNotNull() throws IOException {
      assertEquals(
          List.of(Arrays.asList("", null)), fields("{\"a\": \"\", \"b\": null}", PLAIN, "a", "b"));
    }
  }

  @Nested
  class Rows {

    private static final String SAMPLES =
        "{\"id\": 1, \"r\": [{\"n\": \"fat\", \"v\": [4, 5]}, {\"n\": \"dry\", \"v\": []}]}\n"
            + "{\"id\": 2, \"r\": []}\n{\"id\": 3}\n{\"id\": 4, \"r\": [{\"n\": \"ash\", \"v\": [6]}]}\n";

    @Test
    void areTheElementsOfAnArray() throws IOException {
      assertEquals(
          List.of(List.of("1", "fat"), List.of("1", "dry"), List.of("4", "ash")),
          fields(SAMPLES, layout(JsonForm.AUTO, null, "$.r[*]", EmptyRows.NONE), "$.id", "n"));
    }

    @Test
    void pathsWithTheSameBeginningMeanTheElement() throws IOException {
      assertEquals(
          List.of(List.of("1", "fat"), List.of("1", "dry"), List.of("4", "ash")),
          fields(SAMPLES, layout(JsonForm.AUTO, null, "$.r", EmptyRows.NONE), "$.id", "$.r[*].n"));
    }

    @Test
    void goSeveralLevelsDeep() throws IOException {
      assertEquals(
          List.of(List.of("1", "fat", "4"), List.of("1", "fat", "5"), List.of("4", "ash", "6")),
          fields(
              SAMPLES,
              layout(JsonForm.AUTO, null, "$.r[*].v[*]", EmptyRows.NONE),
              "$.id",
              "$.r[*].n",
              "$.r[*].v[*]"));
    }

    @Test
    void anEmptyArrayCanGiveARowOfNulls() throws IOException {
      assertEquals(
          List.of(
              Arrays.asList("1", "fat"),
              Arrays.asList("1", "dry"),
              Arrays.asList("2", null),
              Arrays.asList("3", null),
              Arrays.asList("4", "ash")),
          fields(SAMPLES, layout(JsonForm.AUTO, null, "$.r[*]", EmptyRows.ONE), "$.id", "n"));
    }

    @Test
    void keepTheRawRecordAndItsPlace() throws IOException {
      List<ReadRecord> rows =
          ReadRecord.all(SAMPLES, layout(JsonForm.AUTO, null, "$.r[*]", EmptyRows.NONE), "$.id");
      assertEquals(1, rows.get(1).line());
      assertEquals(0, rows.get(1).offset());
      assertEquals(4, rows.get(2).line());
      assertTrue(rows.get(2).rawText().startsWith("{\"id\": 4"), rows.get(2).rawText());
    }

    @Test
    void cannotBeChosenByAFilter() {
      IllegalArgumentException failure =
          assertThrows(
              IllegalArgumentException.class,
              () ->
                  JsonPlan.of(
                      layout(JsonForm.AUTO, null, "$.r[?@.n]", EmptyRows.NONE),
                      FieldRequest.of(List.of())));
      assertTrue(failure.getMessage().contains("cannot give rows"), failure.getMessage());
    }
  }

  @Nested
  class Trouble {

    @Test
    void aBrokenLineCostsOneRecord() throws IOException {
      List<ReadRecord> records =
          ReadRecord.all(
              "{\"a\": 1}\n{\"a\": }\n{\"a\": 3} tail\n{\"a\": NaN}\n{\"a\": 5}\n", PLAIN, "a");
      assertEquals(5, records.size());
      assertEquals(List.of("1"), records.get(0).fields());
      assertEquals(RejectCode.BAD_JSON, records.get(1).fault().code());
      assertEquals(
          "the record is not JSON: at byte 7 of it, no value begins with '}'",
          records.get(1).fault().message());
      assertTrue(records.get(2).fault().message().contains("more follows the value"));
      assertTrue(records.get(3).fault().message().contains("no value begins with 'N'"));
      assertEquals(2, records.get(1).line());
      assertEquals(9, records.get(1).offset());
      assertEquals("{\"a\": }", records.get(1).rawText());
      assertEquals(List.of("5"), records.get(4).fields());
    }

    @Test
    void aDeepRecordIsAReject() throws IOException {
      String deep = "{\"a\": " + "[".repeat(10_000) + "]".repeat(10_000) + "}";
      List<ReadRecord> records = ReadRecord.all(deep + "\n{\"a\": 1}\n", PLAIN, "a");
      assertTrue(records.get(0).fault().message().contains("nested deeper than 200"));
      assertEquals(List.of("1"), records.get(1).fields());
    }

    @Test
    void aRecordOverTheLimitIsAReject() throws IOException {
      String big = "{\"a\": \"" + "x".repeat(200_000) + "\"}";
      JsonLayout lines = layout(JsonForm.LINES, null, null, EmptyRows.NONE);
      List<ReadRecord> records = ReadRecord.all(big + "\n{\"a\": 1}\n", lines, "a");
      assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(0).fault().code());
      assertEquals(List.of("1"), records.get(1).fields());
      List<ReadRecord> array =
          ReadRecord.all(
              "[" + big + ", {\"a\": 1}]",
              layout(JsonForm.DOCUMENT, "$[*]", null, EmptyRows.NONE),
              "a");
      assertEquals(RejectCode.RECORD_TOO_LARGE, array.get(0).fault().code());
      assertEquals(64 << 10, array.get(0).raw().length);
      assertEquals(List.of("1"), array.get(1).fields());
    }

    @Test
    void aBrokenDocumentIsRefusedWithPathAndPlace() {
      String message =
          refused(
              "{\"data\": {\"items\": [{\"id\": 1},\n {\"id\": oops}]}}",
              layout(JsonForm.DOCUMENT, "$.data.items[*]", null, EmptyRows.NONE),
              "id");
      assertTrue(message.contains("is not well-formed JSON"), message);
      assertTrue(message.contains("at line 2"), message);
      assertTrue(message.contains("$.data.items[1]"), message);
    }

    @Test
    void aDeepDocumentIsRefusedWithItsPlace() {
      String message =
          refused(
              "[{\"a\": 1},\n" + "[".repeat(10_000) + "]".repeat(10_000) + "]",
              layout(JsonForm.DOCUMENT, "$[*]", null, EmptyRows.NONE),
              "a");
      assertTrue(message.contains("at line 2"), message);
      assertTrue(message.contains("it is nested deeper than 1,000"), message);
    }

    @Test
    void aCutDocumentIsRefused() {
      String message =
          refused(
              "[{\"a\": 1}, {\"a\": 2", layout(JsonForm.DOCUMENT, "$[*]", null, EmptyRows.NONE));
      assertTrue(message.contains("is not well-formed JSON"), message);
    }

    @Test
    void anEmptyFileIsRefused() {
      assertTrue(refused("", PLAIN).contains("is empty"));
      assertTrue(refused(" \n ", PLAIN).contains("is empty"));
    }

    @Test
    void otherContentIsNamed() {
      assertTrue(refused("PAR1....", PLAIN).contains("a Parquet file"));
      assertTrue(
          refused("<a><b/></a>\n<c/>", layout(JsonForm.LINES, null, null, EmptyRows.NONE))
              .contains("it begins like XML"));
    }

    @Test
    void pathsThatCannotBeFollowedAreFoundBeforeReading() {
      for (String records : new String[] {"$..a", "$.a[?@.b]", "$.a[-1]", "$.a[0:2]"}) {
        JsonLayout layout = layout(JsonForm.DOCUMENT, records, null, EmptyRows.NONE);
        assertTrue(
            JsonReader.problem(layout, FieldRequest.of(List.of()))
                .orElseThrow()
                .contains("cannot be followed while streaming"));
      }
      assertTrue(
          JsonReader.problem(PLAIN, FieldRequest.of(List.of("$.a[")))
              .orElseThrow()
              .contains("is not a JSONPath"));
    }

    @Test
    void aHundredMegabytesInOneStringNeedNoRoom() throws IOException {
      // The string is made as it is read; a list of all records would not fit if it were kept.
      InputStream endless =
          new InputStream() {
            private long left = 100L << 20;
            private final InputStream head =
                new ByteArrayInputStream("{\"skip\": \"".getBytes(StandardCharsets.UTF_8));
            private final InputStream tail =
                new ByteArrayInputStream(
                    "\", \"rows\": [{\"n\": 1}]}".getBytes(StandardCharsets.UTF_8));

            @Override
            public int read() {
              throw new UnsupportedOperationException();
            }

            @Override
            public int read(byte[] to, int offset, int length) throws IOException {
              int read = head.read(to, offset, length);
              if (read > 0) {
                return read;
              }
              if (left > 0) {
                int count = (int) Math.min(left, length);
                Arrays.fill(to, offset, offset + count, (byte) 'x');
                left -= count;
                return count;
              }
              return tail.read(to, offset, length);
            }
          };
      JsonLayout layout = layout(JsonForm.DOCUMENT, "$.rows[*]", null, EmptyRows.NONE);
      try (JsonReader reader =
          new JsonReader("big.json", endless, layout, FieldRequest.of(List.of("n")))) {
        RecordBatch batch = new RecordBatch(1024);
        assertTrue(reader.read(batch));
        assertEquals(1, batch.records());
        assertArrayEquals("{\"n\": 1}".getBytes(StandardCharsets.UTF_8), batch.raw(0));
      }
    }
  }
}
