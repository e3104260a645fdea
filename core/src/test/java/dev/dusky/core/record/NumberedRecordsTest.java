package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.ShortRecords;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NumberedRecordsTest {

  private static final DelimitedLayout CSV = DelimitedLayout.plain("csv");

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private static byte[] export(Layout layout, byte[] preamble, byte[]... records)
      throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    NumberedRecords form = new NumberedRecords(layout);
    form.begin(out, preamble);
    long number = 17;
    for (byte[] record : records) {
      form.write(out, preamble, number++, record);
    }
    form.end(out);
    return out.toByteArray();
  }

  private static Map<Long, byte[]> read(Layout layout, byte[] file) throws IOException {
    Map<Long, byte[]> records = new LinkedHashMap<>();
    new NumberedRecords(layout)
        .read(
            "f",
            new ByteArrayInputStream(file),
            (number, line, preamble, raw) -> records.put(number, raw));
    return records;
  }

  private static void assertReturns(Layout layout, byte[] preamble, byte[]... records)
      throws IOException {
    List<byte[]> back = new ArrayList<>(read(layout, export(layout, preamble, records)).values());
    assertEquals(records.length, back.size());
    for (int i = 0; i < records.length; i++) {
      assertArrayEquals(records[i], back.get(i), new String(records[i], StandardCharsets.UTF_8));
    }
  }

  @Test
  void delimitedRecordsReturnAsTheyLeft() throws IOException {
    byte[] header = bytes("no,farm,note\n");
    assertReturns(
        CSV,
        header,
        bytes("1,WF1,plain"),
        bytes("2,\"a \"\"quoted\"\" one\",\"two\nlines\""),
        bytes("3,too few"),
        bytes("4,too,many,fields"),
        bytes("5,\"never closed"),
        bytes("6,-3,+4"),
        bytes("=1+1,@x,'=y"),
        bytes("''=y,-,\"=\""),
        bytes(" =y,\" '+\",  -x"));
  }

  @Test
  void cellsThatSpreadsheetsTakeAsFormulasAreMadeSafe() throws IOException {
    String file =
        new String(
            export(
                CSV,
                bytes("a,b\n"),
                bytes("=SUM(A1),-3.5"),
                bytes("\"+cmd\",'=x"),
                bytes("\"  =1+1\", -4")),
            StandardCharsets.UTF_8);
    assertEquals(
        "dusky_reject,a,b\n17,'=SUM(A1),-3.5\n18,\"'+cmd\",''=x\n19,\"'  =1+1\", -4\n", file);
  }

  @Test
  void anyCellReturnsAsItLeft() throws IOException {
    Random random = new Random(42);
    String alphabet = "=+-@'\"\t ,a1";
    for (int round = 0; round < 2000; round++) {
      StringBuilder cell = new StringBuilder();
      for (int i = random.nextInt(6); i > 0; i--) {
        cell.append(alphabet.charAt(random.nextInt(alphabet.length())));
      }
      String quoted = '"' + cell.toString().replace("\"", "\"\"") + '"';
      assertReturns(CSV, bytes("a,b\n"), bytes("1," + quoted));
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"UTF-16LE", "UTF-16BE", "UTF-8"})
  void theFilesOwnEncodingIsKept(String name) throws IOException {
    Charset charset = Charset.forName(name);
    byte[] header = ("\ufeffnö,x\n").getBytes(charset);
    byte[] record = "1,=é€".getBytes(charset);
    assertReturns(CSV, header, record);
    String file = new String(export(CSV, header, record), charset);
    assertEquals("\ufeffdusky_reject,nö,x\n17,1,'=é€\n", file);
  }

  @Test
  void aSpreadsheetMaySaveItInItsOwnWay() throws IOException {
    byte[] saved = bytes("\ufeff\"dusky_reject\",\"a\",\"b\"\r\n\"17\",\"x\",\"y\"\r\n18,z,\r\n");
    Map<Long, byte[]> records = read(CSV, saved);
    assertArrayEquals(bytes("\"x\",\"y\""), records.get(17L));
    assertArrayEquals(bytes("z,"), records.get(18L));
  }

  @Test
  void anotherDelimiterIsTold() {
    Failure failure =
        assertThrows(Failure.class, () -> read(CSV, bytes("dusky_reject;a;b\n17;x;y\n")));
    assertTrue(failure.getMessage().contains("another delimiter"), failure.getMessage());
    Failure lost = assertThrows(Failure.class, () -> read(CSV, bytes("a,b\nx,y\n")));
    assertTrue(lost.getMessage().contains("its first column is 'a'"), lost.getMessage());
  }

  @Test
  void recordsWithoutANumberAreGivenAsSuch() throws IOException {
    assertArrayEquals(bytes("x,y"), read(CSV, bytes("dusky_reject,a,b\nx,y\n")).get(-1L));
  }

  @Test
  void fixedAndJsonRecordsReturnAsTheyLeft() throws IOException {
    FixedLayout fixed =
        new FixedLayout(
            "f",
            List.of(),
            0,
            Optional.empty(),
            0,
            ShortRecords.REJECT,
            dev.dusky.core.layout.Encoding.UTF_8,
            List.of(),
            1 << 20);
    assertReturns(fixed, new byte[0], bytes("  T01 |12"), bytes(" "));
    JsonLayout json = JsonLayout.plain("j");
    assertReturns(
        json,
        new byte[0],
        bytes("{\"a\":1}"),
        bytes("{}"),
        bytes("{\"a\":}"),
        bytes("[1,2"),
        bytes("not json"));
    ColumnarLayout typed =
        new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20);
    assertReturns(typed, new byte[0], bytes("{\"a\":\"x\",\"b\":null}"));
  }

  @Test
  void aRecordOfAWorkbookLeavesWithTheNamesOfItsColumns() throws IOException {
    ColumnarLayout kept =
        new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20);
    String file =
        new String(
            export(kept, bytes("[\"product\",\"price\"]"), bytes("[\"cream\",\"1.9.5\"]")),
            StandardCharsets.UTF_8);
    assertEquals("{\"dusky_reject\":17,\"product\":\"cream\",\"price\":\"1.9.5\"}\n", file);
  }
}
