package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

class DelimitedReaderTest {

  private static DelimitedLayout plain() {
    return Layouts.plain().build();
  }

  @Nested
  class Fields {

    @Test
    void areSplitAtTheDelimiter() throws IOException {
      assertEquals(
          List.of(List.of("1", "a", ""), List.of("2", "", "c")),
          ReadRecord.fields("1,a,\n2,,c\n", plain()));
    }

    @Test
    void mayEndTheFileWithoutALineEnd() throws IOException {
      assertEquals(List.of(List.of("1", "a")), ReadRecord.fields("1,a", plain()));
      assertEquals(List.of(List.of("1", "")), ReadRecord.fields("1,", plain()));
      assertEquals(List.of(List.of("1", "a")), ReadRecord.fields("1,\"a\"", plain()));
    }

    @Test
    void inQuotesKeepDelimitersQuotesAndLineEnds() throws IOException {
      assertEquals(
          List.of(List.of("1", "a,b", "say \"so\"", "two\nlines"), List.of("2", "", "x", "y")),
          ReadRecord.fields("1,\"a,b\",\"say \"\"so\"\"\",\"two\nlines\"\n2,\"\",x,y\n", plain()));
    }

    @Test
    void keepQuotesThatDoNotOpenThem() throws IOException {
      assertEquals(
          List.of(List.of("5 \"inch\" pipe", "O\"Hara")),
          ReadRecord.fields("5 \"inch\" pipe,O\"Hara\n", plain()));
    }

    @Test
    void mayGoWithoutQuotesAltogether() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.quote = DelimitedLayout.NONE).build();
      assertEquals(List.of(List.of("\"a", "b\"")), ReadRecord.fields("\"a,b\"\n", layout));
    }

    @ParameterizedTest
    @ValueSource(strings = {"|", "\t", ";", "||", "~^~", "§", ", "})
    void mayHaveAnyDelimiter(String delimiter) throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.delimiter = delimiter).build();
      String text = String.join(delimiter, "1", "a", "", "\"q" + delimiter + "q\"") + "\n";
      assertEquals(
          List.of(List.of("1", "a", "", "q" + delimiter + "q")), ReadRecord.fields(text, layout));
    }

    @Test
    void takePartOfALongDelimiterAsText() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.delimiter = "||").build();
      assertEquals(List.of(List.of("a|b", "c")), ReadRecord.fields("a|b||c\n", layout));
    }

    @Test
    void resolveEscapesInAndOutOfQuotes() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.escape = '\\').build();
      assertEquals(
          List.of(List.of("a,b", "say \"so\"", "back\\slash", "two\nlines"), List.of("x")),
          ReadRecord.fields("a\\,b,\"say \\\"so\\\"\",back\\\\slash,two\\\nlines\nx\n", layout));
    }

    @Test
    void areTrimmedOnlyWhenAsked() throws IOException {
      assertEquals(List.of(List.of(" a ", " b")), ReadRecord.fields(" a , b\n", plain()));
      DelimitedLayout layout = Layouts.plain().with(l -> l.trim = true).build();
      assertEquals(
          List.of(List.of("a", "b,c", "d")), ReadRecord.fields(" a ,\t\"b,c\" , d\n", layout));
    }

    @Test
    void mayBeFollowedByATrailingDelimiter() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.trailingDelimiter = true).build();
      assertEquals(
          List.of(List.of("1", "a"), List.of("2", "")), ReadRecord.fields("1,a,\n2,,\n", layout));
    }

    @Test
    void areBoundedInNumber() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.fieldLimit = 3).build();
      List<ReadRecord> records = ReadRecord.all("1,2,3\n1,2,3,4\n5,6\n", layout);
      assertNull(records.get(0).fault());
      assertEquals(RejectCode.TOO_MANY_FIELDS, records.get(1).fault().code());
      assertEquals(List.of("5", "6"), records.get(2).fields());
    }
  }

  @Nested
  class Lines {

    @ParameterizedTest
    @ValueSource(strings = {"\n", "\r\n", "\r", "\r\r\n"})
    void mayEndInAnyWay(String end) throws IOException {
      String text = "1,a" + end + "2,\"b\"" + end + "3,c";
      assertEquals(
          List.of(List.of("1", "a"), List.of("2", "b"), List.of("3", "c")),
          ReadRecord.fields(text, plain()));
    }

    @Test
    void mayMixLfAndCrLf() throws IOException {
      assertEquals(
          List.of(List.of("1"), List.of("2"), List.of("3")),
          ReadRecord.fields("1\r\n2\n3\r\n", plain()));
    }

    private static List<String> lines(String text, DelimitedLayout layout) throws IOException {
      return ReadRecord.all(text, layout).stream()
          .map(r -> "%d %d %s".formatted(r.number(), r.line(), r.fields()))
          .toList();
    }

    @ParameterizedTest
    @ValueSource(strings = {"n,t\n1,a\n\n2,b\n", "n,t\n1,\"a\"\n\n2,\"b\n\"", "n,t\n1,a\n\n2,"})
    void thatWereGivenTheirEndsTwiceAreTheSame(String text) throws IOException {
      for (LineEnd declared : List.of(LineEnd.AUTO, LineEnd.LF)) {
        for (boolean trim : new boolean[] {false, true}) {
          DelimitedLayout layout =
              Layouts.plain()
                  .with(
                      l -> {
                        l.header = HeaderUse.NAMES;
                        l.lineEnd = declared;
                        l.trim = trim;
                      })
                  .build();
          String again = text.replace("\n", "\r\r\n").replace("b\r\r\n\"", "b\n\"");
          assertEquals(lines(text, layout), lines(again, layout));
        }
      }
    }

    @Test
    void endAtCrOnlyWhereDeclaredSo() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.lineEnd = LineEnd.LF).build();
      assertEquals(List.of(List.of("a\rb", "c")), ReadRecord.fields("a\rb,c\n", layout));
    }

    @Test
    void thatAreBlankOrCommentsAreNoRecords() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.comment = "#").build();
      List<ReadRecord> records =
          ReadRecord.all("# made by hand\n\n1,a\n\r\n#x\n2,\"#b\"\n# end", layout);
      assertEquals(2, records.size());
      assertEquals(3, records.get(0).line());
      assertEquals(2, records.get(1).number());
      assertEquals(6, records.get(1).line());
    }

    @Test
    void areSkippedBeforeTheHeader() throws IOException {
      DelimitedLayout layout =
          Layouts.plain()
              .with(
                  l -> {
                    l.skipLines = 2;
                    l.header = HeaderUse.NAMES;
                  })
              .build();
      byte[] text = "report,of\nthe \"day\nno,name\n1,a\n".getBytes(StandardCharsets.UTF_8);
      try (DelimitedReader reader =
          new DelimitedReader("t", new ByteArrayInputStream(text), layout)) {
        assertEquals(List.of("no", "name"), reader.names());
        RecordBatch batch = new RecordBatch(1024);
        assertTrue(reader.read(batch));
        assertEquals(4, batch.line(0));
        assertEquals(27, batch.byteOffset(0));
      }
    }
  }

  @Nested
  class Positions {

    @Test
    void areThoseOfTheFile() throws IOException {
      List<ReadRecord> records = ReadRecord.all("a,b\n\"x\ny\",c\r\nä,d\ne,f", plain());
      assertEquals(List.of(1L, 2L, 4L, 5L), records.stream().map(ReadRecord::line).toList());
      assertEquals(List.of(0L, 4L, 13L, 18L), records.stream().map(ReadRecord::offset).toList());
      assertArrayEquals("\"x\ny\",c".getBytes(StandardCharsets.UTF_8), records.get(1).raw());
    }

    @ParameterizedTest
    @ValueSource(ints = {64, 100, 200, 4096})
    void doNotDependOnTheBuffer(int capacity) throws IOException {
      StringBuilder text = new StringBuilder();
      for (int i = 0; i < 300; i++) {
        text.append(i).append(",\"a\"\"b\n").append("x".repeat(i % 37)).append("\",end\r\n");
      }
      byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
      List<ReadRecord> small = ReadRecord.all(bytes, plain(), capacity);
      List<ReadRecord> large = ReadRecord.all(bytes, plain(), 1 << 20);
      assertEquals(300, large.size());
      assertEquals(
          large.stream().map(r -> r.fields() + " " + r.line() + " " + r.offset()).toList(),
          small.stream().map(r -> r.fields() + " " + r.line() + " " + r.offset()).toList());
    }
  }

  @Nested
  class BrokenQuotes {

    private List<ReadRecord> read(String text) throws IOException {
      return ReadRecord.all(text, plain());
    }

    @Test
    void costOneRecordWhenTextFollowsTheClosingQuote() throws IOException {
      List<ReadRecord> records = read("1,\"a\"b,c\n2,d,e\n");
      assertEquals(RejectCode.BROKEN_QUOTE, records.get(0).fault().code());
      assertEquals("1,\"a\"b,c", new String(records.get(0).raw(), StandardCharsets.UTF_8));
      assertEquals(List.of("2", "d", "e"), records.get(1).fields());
      assertEquals(2, records.get(1).line());
    }

    @Test
    void costOneRecordWhenNeverClosed() throws IOException {
      List<ReadRecord> records = read("1,\"open,x\n2,b,c\n3,d,e\n");
      assertEquals(3, records.size());
      assertEquals(RejectCode.BROKEN_QUOTE, records.get(0).fault().code());
      assertEquals("1,\"open,x", new String(records.get(0).raw(), StandardCharsets.UTF_8));
      assertEquals(List.of("2", "b", "c"), records.get(1).fields());
      assertEquals(List.of("3", "d", "e"), records.get(2).fields());
    }

    @Test
    void costOneRecordWhenALaterFieldHasQuotes() throws IOException {
      List<ReadRecord> records = read("1,\"open,x\n2,\"b\",c\n3,\"d \"\"e\"\"\",f\n");
      assertEquals(3, records.size());
      assertEquals(RejectCode.BROKEN_QUOTE, records.get(0).fault().code());
      assertEquals(List.of("2", "b", "c"), records.get(1).fields());
      assertEquals(List.of("3", "d \"e\"", "f"), records.get(2).fields());
      assertEquals(3, records.get(2).line());
    }

    @Test
    void keepTheLinesBeforeThemInTheRecord() throws IOException {
      List<ReadRecord> records = read("\"two\nlines\",\"open\n2,b\n");
      assertEquals(RejectCode.BROKEN_QUOTE, records.get(0).fault().code());
      assertEquals(
          "\"two\nlines\",\"open", new String(records.get(0).raw(), StandardCharsets.UTF_8));
      assertEquals(2, records.get(0).fault().field());
      assertEquals(List.of("2", "b"), records.get(1).fields());
      assertEquals(3, records.get(1).line());
    }

    @Test
    void areFoundAtTheRecordLimitToo() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.recordLimit = 4096).build();
      String text = "1,\"open\n" + "2,b\n".repeat(3000);
      List<ReadRecord> records = ReadRecord.all(text.getBytes(StandardCharsets.UTF_8), layout, 512);
      assertEquals(3001, records.size());
      assertEquals(RejectCode.BROKEN_QUOTE, records.get(0).fault().code());
      assertEquals(List.of("2", "b"), records.get(3000).fields());
      assertEquals(3001, records.get(3000).line());
    }
  }

  @Nested
  class Encodings {

    @ParameterizedTest
    @EnumSource(Encoding.class)
    void giveTheSameTextAndKeepTheBytes(Encoding encoding) throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.encoding = encoding).build();
      Charset charset = charset(encoding);
      byte[] bytes = "1,Mølle ä\n2,\"Prés, Clairs\"\n".getBytes(charset);
      List<ReadRecord> records = ReadRecord.all(bytes, layout, 4096);
      assertEquals(List.of("1", "Mølle ä"), records.get(0).fields());
      assertEquals(List.of("2", "Prés, Clairs"), records.get(1).fields());
      byte[] raw = "2,\"Prés, Clairs\"".getBytes(charset);
      assertArrayEquals(raw, records.get(1).raw());
      assertEquals("1,Mølle ä\n".getBytes(charset).length, records.get(1).offset());
    }

    private Charset charset(Encoding encoding) {
      return encoding == Encoding.UTF_16
          ? StandardCharsets.UTF_16BE
          : Charset.forName(encoding.label());
    }

    @ParameterizedTest
    @ValueSource(strings = {"UTF-8", "UTF-16LE", "UTF-16BE"})
    void areToldByTheByteOrderMark(String name) throws IOException {
      byte[] bytes = "\ufeff1,ä\n2,b\n".getBytes(Charset.forName(name));
      List<ReadRecord> records = ReadRecord.all(bytes, plain(), 4096);
      assertEquals(List.of("1", "ä"), records.get(0).fields());
      assertEquals("\ufeff".getBytes(Charset.forName(name)).length, records.get(0).offset());
    }

    @Test
    void keepBytesThatStandForNothing() throws IOException {
      DelimitedLayout layout =
          Layouts.plain().with(l -> l.encoding = Encoding.WINDOWS_1252).build();
      byte[] bytes = {'a', (byte) 0x81, 'b', ',', (byte) 0x80, '\n'};
      ReadRecord record = ReadRecord.all(bytes, layout, 64).get(0);
      assertArrayEquals(java.util.Arrays.copyOf(bytes, 5), record.raw());
      assertEquals("€", record.fields().get(1));
    }

    @Test
    void keepLoneSurrogates() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.encoding = Encoding.UTF_16LE).build();
      byte[] bytes = {'a', 0, 0, (byte) 0xd8, ',', 0, (byte) 0x3d, (byte) 0xd8, 0, (byte) 0xde};
      ReadRecord record = ReadRecord.all(bytes, layout, 64).get(0);
      assertArrayEquals(bytes, record.raw());
      assertEquals("\ud83d\ude00", record.fields().get(1));
    }
  }

  @Nested
  class BadFiles {

    private String refused(byte[] bytes, DelimitedLayout layout) {
      Failure failure = assertThrows(Failure.class, () -> ReadRecord.all(bytes, layout, 4096));
      assertEquals(Failure.Kind.FILE, failure.kind());
      return failure.getMessage();
    }

    @Test
    void thatAreEmptyAreRefused() {
      assertTrue(refused(new byte[0], plain()).contains("is empty"));
    }

    @Test
    void withoutAHeaderLineAreRefused() {
      DelimitedLayout layout = Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
      assertTrue(refused("\n\n".getBytes(), layout).contains("has no header"));
    }

    @Test
    void thatAreBinaryAreRefusedByTheirFirstBytes() {
      assertTrue(refused("PAR1....".getBytes(), plain()).contains("a Parquet file"));
      assertTrue(refused("PK\u0003\u0004..".getBytes(), plain()).contains("zip archive"));
      assertTrue(refused(new byte[] {'a', 'b', 0, 'c'}, plain()).contains("byte 2 is NUL"));
    }

    @Test
    void inUtf16WithoutAMarkAreRecognised() {
      byte[] bytes = "1,abc\n".getBytes(StandardCharsets.UTF_16LE);
      assertTrue(refused(bytes, plain()).contains("encoding: utf-16le"));
    }
  }

  @Test
  void aRecordWithoutAnEndIsOneRejectAndTakesBoundedMemory() throws IOException {
    DelimitedLayout layout = Layouts.plain().with(l -> l.recordLimit = 1 << 20).build();
    long size = 1L << 30;
    InputStream endless =
        new InputStream() {
          private long left = size;

          @Override
          public int read() {
            return left-- > 0 ? 'x' : -1;
          }

          @Override
          public int read(byte[] b, int off, int len) {
            if (left <= 0) {
              return -1;
            }
            int n = (int) Math.min(len, left);
            java.util.Arrays.fill(b, off, off + n, (byte) 'x');
            left -= n;
            return n;
          }
        };
    InputStream file =
        new java.io.SequenceInputStream(
            java.util.Collections.enumeration(
                List.of(
                    new ByteArrayInputStream("1,a\n".getBytes()),
                    endless,
                    new ByteArrayInputStream("\n2,b\n".getBytes()))));
    List<ReadRecord> records = ReadRecord.all(file, layout, 64 << 10);
    assertEquals(3, records.size());
    assertEquals(RejectCode.RECORD_TOO_LARGE, records.get(1).fault().code());
    assertEquals(64 << 10, records.get(1).raw().length);
    assertEquals(List.of("2", "b"), records.get(2).fields());
    assertEquals(3, records.get(2).line());
    assertEquals(4 + size + 1, records.get(2).offset());
  }

  @Test
  void concatenatedReadsGiveBackEveryByteOfEveryRecord() throws IOException {
    String text = "1,\"a\nb\",c\n2,x\"y,\"z\n3,ok,ok\n4,\"q\"\"\",r\n";
    ByteArrayOutputStream raw = new ByteArrayOutputStream();
    for (ReadRecord record : ReadRecord.all(text, plain())) {
      raw.write(record.raw());
      raw.write('\n');
    }
    assertEquals(text, raw.toString(StandardCharsets.UTF_8));
  }
}
