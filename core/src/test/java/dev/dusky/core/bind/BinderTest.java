package dev.dusky.core.bind;

import static dev.dusky.core.bind.TestFeeds.column;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Layouts;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;

class BinderTest {

  /** All good rows as objects, and all rejects. */
  private record Bound(List<List<Object>> rows, List<Reject> rejects, int rejected) {}

  private static Bound bind(Feed feed, String text) throws IOException {
    return bind(feed, text.getBytes(StandardCharsets.UTF_8));
  }

  private static Bound bind(Feed feed, byte[] bytes) throws IOException {
    List<List<Object>> rows = new ArrayList<>();
    List<Reject> rejects = new ArrayList<>();
    int rejected = 0;
    try (RecordReader reader =
        Readers.open(
            SourceFile.of("a.csv", new ByteArrayInputStream(bytes)),
            feed.layout(),
            FeedInputs.of(feed).request())) {
      FileFacts facts = new FileFacts(Map.of("day", "2026-03-02", "file.name", "a.csv"));
      Binder binder =
          new Binder(feed, FieldPlan.of(feed, "a.csv", reader.names()), facts, reader.typed());
      RecordBatch records = new RecordBatch(512);
      FieldSplitter splitter = reader.splitter();
      long before = 0;
      RowBatch batch = binder.newBatch();
      while (reader.read(records)) {
        binder.bind(splitter.split(records), batch);
        batch.numberFrom(before, 0);
        before += batch.read();
        assertEquals(batch.read(), batch.count() + batch.rejected() + batch.filtered());
        rejects.addAll(batch.rejects());
        rejected += batch.rejected();
        for (int i = 0; i < batch.count(); i++) {
          List<Object> row = new ArrayList<>();
          for (ColumnVector vector : batch.columns()) {
            row.add(value(vector, batch.selected(i)));
          }
          rows.add(row);
        }
      }
    }
    return new Bound(rows, rejects, rejected);
  }

  private static Object value(ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      return null;
    }
    if (vector instanceof LongVector longs) {
      return longs.get(row);
    }
    if (vector instanceof DecimalVector decimals) {
      return decimals.get(row);
    }
    if (vector instanceof DoubleVector doubles) {
      return doubles.get(row);
    }
    if (vector instanceof UuidVector uuids) {
      return uuids.get(row);
    }
    return ((BytesVector) vector).text(row);
  }

  private static List<Object> row(Object... values) {
    return java.util.Arrays.asList(values);
  }

  private static DelimitedLayout named() {
    return Layouts.plain().with(l -> l.header = HeaderUse.NAMES).build();
  }

  @Test
  void typesOfEveryKindAreBound() throws IOException {
    Feed feed =
        TestFeeds.of(
            Layouts.plain().build(),
            List.of(),
            column("a", "smallint"),
            column("b", "decimal(30,2)"),
            column("c", "double precision"),
            column("d", "date"),
            column("e", "boolean"),
            column("f", "uuid"),
            column("g", "json"),
            column("h", "bytea"),
            column("i", "char(4)"));
    Bound bound =
        bind(
            feed,
            "1,12345678901234567890123.45,1.5,1970-01-02,yes,"
                + "0f8fad5b-d9cb-469f-a165-70867728950e,\"{\"\"a\"\":1}\",6162,ab  \n");
    assertEquals(List.of(), bound.rejects());
    assertEquals(
        row(
            1L,
            new BigDecimal("12345678901234567890123.45"),
            1.5,
            1L,
            1L,
            java.util.UUID.fromString("0f8fad5b-d9cb-469f-a165-70867728950e"),
            "{\"a\":1}",
            "ab",
            "ab"),
        bound.rows().get(0));
  }

  @Test
  void aHeaderMayNameTheColumnsInAnyOrder() throws IOException {
    Feed feed =
        TestFeeds.of(
            named(),
            List.of("remark"),
            column("no", "bigint"),
            TestFeeds.from(column("farm", "text"), new FieldSource.Named("Farm Code")));
    Bound bound = bind(feed, "Farm Code,remark,NO\nWF1,x,7\n");
    assertEquals(List.of(row(7L, "WF1")), bound.rows());
  }

  @Test
  void positionsServeWhereThereAreNoNames() throws IOException {
    Feed feed =
        TestFeeds.of(
            Layouts.plain().build(),
            List.of("2"),
            column("a", "text"),
            TestFeeds.from(column("b", "text"), new FieldSource.At(5)),
            column("c", "text"),
            column("d", "text"));
    Bound bound = bind(feed, "1,2,3,4,5\n");
    assertEquals(List.of(row("1", "5", "3", "4")), bound.rows());
  }

  @Nested
  class Nulls {

    @Test
    void areTheDeclaredMarksOutsideQuotes() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.nulls = List.of("", "n/a")).build();
      Feed feed = TestFeeds.of(layout, List.of(), column("a", "text"), column("b", "text"));
      assertEquals(
          List.of(row(null, null), row("", "n/a"), row("x", "N/A")),
          bind(feed, ",n/a\n\"\",\"n/a\"\nx,N/A\n").rows());
    }

    @Test
    void mayStandInQuotesWhereDeclaredSo() throws IOException {
      DelimitedLayout layout = Layouts.plain().with(l -> l.nullsInQuotes = true).build();
      Feed feed = TestFeeds.of(layout, List.of(), column("a", "text"), column("b", "text"));
      assertEquals(List.of(row(null, "x")), bind(feed, "\"\",x\n").rows());
    }

    @Test
    void areRejectsInColumnsThatRefuseThem() throws IOException {
      Feed feed =
          TestFeeds.of(
              Layouts.plain().build(),
              List.of(),
              column("a", "text not null"),
              column("b", "text"));
      Bound bound = bind(feed, ",x\ny,\n");
      assertEquals(List.of(row("y", null)), bound.rows());
      assertEquals(RejectCode.NULL_VALUE, bound.rejects().get(0).problems().get(0).code());
    }

    @Test
    void giveWayToADefault() throws IOException {
      Feed feed =
          TestFeeds.of(
              Layouts.plain().build(),
              List.of(),
              TestFeeds.withDefault(column("a", "decimal(5,1) not null"), "0.0"),
              column("b", "text"));
      assertEquals(List.of(row(new BigDecimal("0.0"), "x")), bind(feed, ",x\n").rows());
    }
  }

  @Nested
  class Rejects {

    @Test
    void tellEverythingThatIsWrongAndWhere() throws IOException {
      Feed feed =
          TestFeeds.of(
              named(),
              List.of(),
              column("no", "bigint not null"),
              column("farm", "varchar(4)"),
              TestFeeds.pattern(column("day", "date"), "dd/MM/yyyy"),
              column("litres", "decimal(5,1)"));
      String good = "1,WF1,01/03/2026,8.5\n";
      String bad = "x,WF123,31/02/2026,8.55";
      Bound bound = bind(feed, "no,farm,day,litres\n" + good + bad + "\n" + good);
      assertEquals(2, bound.rows().size());
      Reject reject = bound.rejects().get(0);
      assertEquals(2, reject.recordNumber());
      assertEquals(3, reject.line());
      assertEquals("no,farm,day,litres\n".length() + good.length(), reject.byteOffset());
      assertArrayEquals(bad.getBytes(), reject.raw());
      assertEquals(
          List.of(
              RejectCode.BAD_NUMBER,
              RejectCode.TEXT_TOO_LONG,
              RejectCode.BAD_DATE,
              RejectCode.TOO_MANY_DECIMALS),
          reject.problems().stream().map(Problem::code).toList());
      Problem day = reject.problems().get(2);
      assertEquals("day", day.column());
      assertEquals("31/02/2026", day.value());
      assertEquals("'31/02/2026' names a day that does not exist", day.message());
    }

    @Test
    void countCharactersAndNotBytes() throws IOException {
      Feed feed = TestFeeds.of(Layouts.plain().build(), List.of(), column("a", "varchar(3)"));
      Bound bound = bind(feed, "äöü\n😀😀😀\nabcd\n");
      assertEquals(2, bound.rows().size());
      assertEquals(RejectCode.TEXT_TOO_LONG, bound.rejects().get(0).problems().get(0).code());
    }

    @Test
    void comeFromBytesThatAreNotText() throws IOException {
      Feed feed = TestFeeds.of(Layouts.plain().build(), List.of(), column("a", "text"));
      byte[] bytes = {'a', 'b', (byte) 0xc3, 'c', '\n', 'o', 'k', '\n'};
      Bound bound = bind(feed, bytes);
      Problem problem = bound.rejects().get(0).problems().get(0);
      assertEquals(RejectCode.BAD_ENCODING, problem.code());
      assertTrue(problem.message().endsWith("at byte 2 (0xC3)"), problem.message());
      assertArrayEquals(java.util.Arrays.copyOf(bytes, 4), bound.rejects().get(0).raw());
      assertEquals(List.of(row("ok")), bound.rows());
    }

    @Test
    void ofBrokenQuotesStandBesideGoodRows() throws IOException {
      Feed feed =
          TestFeeds.of(
              Layouts.plain().build(), List.of(), column("a", "text"), column("b", "text"));
      Bound bound = bind(feed, "1,a\n2,\"b\" c\n3,\"d\"\n");
      assertEquals(List.of(row("1", "a"), row("3", "d")), bound.rows());
      assertEquals(RejectCode.BROKEN_QUOTE, bound.rejects().get(0).problems().get(0).code());
    }

    @Test
    void areCountedBeyondTheCap() throws IOException {
      Feed feed = TestFeeds.of(Layouts.plain().build(), List.of(), column("a", "integer"));
      Bound bound = bind(feed, "x\n".repeat(250));
      assertEquals(250, bound.rejected());
      assertEquals(100, bound.rejects().size());
    }

    @Test
    void showLongValuesShortened() throws IOException {
      Feed feed = TestFeeds.of(Layouts.plain().build(), List.of(), column("a", "integer"));
      Bound bound = bind(feed, "y".repeat(5000) + "\n");
      Problem problem = bound.rejects().get(0).problems().get(0);
      assertEquals(Problem.VALUE_LIMIT, problem.value().length());
      assertEquals(5000, bound.rejects().get(0).raw().length);
    }
  }

  @Nested
  class ShortAndLongRecords {

    private Feed feed(ShortRecords shorts, LongRecords longs) {
      DelimitedLayout layout =
          Layouts.plain()
              .with(
                  l -> {
                    l.shortRecords = shorts;
                    l.longRecords = longs;
                  })
              .build();
      return TestFeeds.of(layout, List.of(), column("a", "integer"), column("b", "text not null"));
    }

    @Test
    void areRejectsWithOneReasonByDefault() throws IOException {
      Bound bound = bind(feed(ShortRecords.REJECT, LongRecords.REJECT), "1\n1,x\nz,x,y\n");
      assertEquals(1, bound.rows().size());
      assertEquals(
          List.of(List.of(RejectCode.TOO_FEW_FIELDS), List.of(RejectCode.TOO_MANY_FIELDS)),
          bound.rejects().stream()
              .map(r -> r.problems().stream().map(Problem::code).toList())
              .toList());
    }

    @Test
    void mayBeFilledOrCut() throws IOException {
      Bound bound = bind(feed(ShortRecords.FILL, LongRecords.IGNORE), "1\n1,x\n2,y,z\n");
      assertEquals(List.of(row(1L, "x"), row(2L, "y")), bound.rows());
      assertEquals(RejectCode.NULL_VALUE, bound.rejects().get(0).problems().get(0).code());
    }
  }

  @Nested
  class Headers {

    private String refused(Feed feed, String header) {
      Failure failure = assertThrows(Failure.class, () -> bind(feed, header + "\n1,2\n"));
      assertEquals(Failure.Kind.FILE, failure.kind());
      return failure.getMessage();
    }

    private final Feed feed =
        TestFeeds.of(named(), List.of(), column("no", "bigint"), column("farm", "text"));

    @Test
    void withoutANeededColumnAreRefused() {
      String message = refused(feed, "no,form");
      assertTrue(message.contains("lacks columns") && message.contains("'farm'"), message);
    }

    @Test
    void withUnknownColumnsAreRefused() {
      String message = refused(feed, "no,farm,extra");
      assertTrue(message.contains("does not know: 'extra'"), message);
    }

    @Test
    void ofAnotherFileAreRecognised() {
      String message = refused(feed, "x,y");
      assertTrue(message.contains("looks like a file of another feed"), message);
    }

    @Test
    void withANeededNameTwiceAreRefused() {
      assertTrue(refused(feed, "no,farm,no").contains("twice"));
    }
  }

  @Test
  void numbersMayHaveMarksOfTheirOwn() throws IOException {
    DelimitedLayout layout = Layouts.plain().with(l -> l.delimiter = ";").build();
    Feed feed =
        TestFeeds.of(
            layout,
            List.of(),
            TestFeeds.marked(column("a", "decimal(12,2)"), ',', "."),
            TestFeeds.marked(column("b", "integer"), ',', "."));
    Bound bound = bind(feed, "1.234,50;12.345\n1234.50;1\n");
    assertEquals(List.of(row(new BigDecimal("1234.50"), 12345L)), bound.rows());
    assertEquals(
        "'1234.50' is not a number with decimal mark ',' and group mark '.'",
        bound.rejects().get(0).problems().get(0).message());
  }

  @Test
  void datesAreDaysSinceTheEpoch() throws IOException {
    Feed feed = TestFeeds.of(Layouts.plain().build(), List.of(), column("a", "date"));
    assertEquals(
        List.of(row(LocalDate.of(2026, 3, 1).toEpochDay())), bind(feed, "2026-03-01\n").rows());
  }
}
