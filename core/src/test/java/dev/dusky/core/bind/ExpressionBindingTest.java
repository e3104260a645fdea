package dev.dusky.core.bind;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.VectorText;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Derived columns, checks and conditions, and columns that come from the file itself. */
class ExpressionBindingTest {

  private record Bound(List<String> rows, List<Reject> rejects, int filtered) {

    List<String> problems() {
      return rejects.stream()
          .map(
              r ->
                  r.recordNumber()
                      + " "
                      + String.join(
                          "; ",
                          r.problems().stream()
                              .map(p -> p.code().label() + " " + p.column() + ": " + p.message())
                              .toList()))
          .toList();
    }
  }

  private static Bound bind(Feed feed, String text) throws IOException {
    List<String> rows = new ArrayList<>();
    List<Reject> rejects = new ArrayList<>();
    int filtered = 0;
    FileFacts facts =
        new FileFacts(Map.of("day", "2026-03-02", "file.name", "a.csv", "file.size", "77"));
    try (RecordReader reader =
        Readers.open(
            SourceFile.of("a.csv", new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))),
            feed.layout(),
            FeedInputs.of(feed).request())) {
      Binder binder =
          new Binder(feed, FieldPlan.of(feed, "a.csv", reader.names()), facts, reader.typed());
      RecordBatch records = new RecordBatch(64);
      RowBatch batch = binder.newBatch();
      FieldSplitter splitter = reader.splitter();
      long before = 0;
      while (reader.read(records)) {
        binder.bind(splitter.split(records), batch);
        batch.numberFrom(before, 0);
        before += batch.read();
        filtered += batch.filtered();
        rejects.addAll(batch.rejects());
        for (int i = 0; i < batch.count(); i++) {
          List<String> row = new ArrayList<>();
          for (int c = 0; c < feed.columns().size(); c++) {
            ColumnVector vector = batch.columns().get(c);
            int at = batch.selected(i);
            row.add(
                vector.isNull(at)
                    ? "-"
                    : VectorText.text(feed.columns().get(c).type(), vector, at));
          }
          rows.add(String.join("|", row));
        }
      }
    }
    return new Bound(rows, rejects, filtered);
  }

  private static FeedColumn column(String name, String type) {
    return TestFeeds.column(name, type);
  }

  private static FeedColumn derived(String name, String type, String value) {
    return column(name, type).withValue(Formula.of(value));
  }

  private static Feed feed(Layout layout, FeedColumn... columns) {
    return TestFeeds.of(layout, List.of(), columns);
  }

  private static Layout csv() {
    return DelimitedLayout.plain("csv");
  }

  private static Feed where(Feed feed, String condition) {
    return feed.withWhere(Optional.of(Formula.of(condition)));
  }

  @Test
  void columnsAreDerivedFromColumnsAndFields() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("litres", "decimal(9,1)"),
            derived("double_litres", "decimal(9,1)", "litres * 2"),
            derived("route", "varchar(12)", "upper(trim(route_code))"),
            derived("large", "boolean", "litres > 100"),
            derived("size", "integer", "length(route_code)"));
    Bound bound = bind(feed, "litres,route_code\n12.5,  r7 \n250,x\n,\n");
    assertEquals(
        List.of("12.5|25.0|R7|false|5", "250.0|500.0|X|true|1", "-|-|-|-|-"), bound.rows());
    assertEquals(List.of(), bound.problems());
  }

  @Test
  void aColumnsOwnNameMeansItsField() throws IOException {
    Feed feed =
        feed(
            csv(),
            derived("code", "varchar(4)", "replace(code, '-', '')"),
            derived("n", "integer", "cast(n as integer) + 1"));
    assertEquals(List.of("AB12|8"), bind(feed, "code,n\nAB-12,7\n").rows());
  }

  @Test
  void derivedColumnsMayReadEachOtherInAnyOrder() throws IOException {
    Feed feed =
        feed(
            csv(),
            derived("c", "integer", "b + 1"),
            derived("b", "integer", "a * 10"),
            column("a", "integer"));
    assertEquals(List.of("31|30|3"), bind(feed, "a\n3\n").rows());
    Feed circle = feed(csv(), derived("x", "integer", "y + 1"), derived("y", "integer", "x + 1"));
    ExpressionFault fault =
        assertThrows(ExpressionFault.class, () -> FeedInputs.of(circle).derivedInOrder());
    assertTrue(fault.getMessage().contains("depends on itself"), fault.getMessage());
  }

  @Test
  void aResultThatTheColumnCannotHoldIsAReject() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("a", "decimal(9,3)"),
            derived("rounded", "decimal(5,1)", "a * 1.0"),
            derived("code", "varchar(3)", "'c' || a"));
    Bound bound = bind(feed, "a\n1.5\n1.25\n99999\n");
    assertEquals(List.of(), bound.rows());
    assertEquals(
        List.of(
            "1 text-too-long code: 'c1.500' has 6 characters, more than varchar(3) holds",
            "2 too-many-decimals rounded: '1.2500' has more than 1 decimal; round it in the"
                + " expression; text-too-long code: 'c1.250' has 6 characters, more than"
                + " varchar(3) holds",
            "3 out-of-range rounded: '99999.0000' is out of range for decimal(5,1);"
                + " text-too-long code: 'c99999.000' has 10 characters, more than varchar(3)"
                + " holds"),
        bound.problems());
  }

  @Test
  void resultsTakeTheTypeOfTheColumnStrictly() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("a", "integer"),
            derived("s", "smallint", "a"),
            derived("b", "bigint", "a * 2"),
            derived("d", "decimal(8,2)", "a"),
            derived("f", "double precision", "a / 4.0"),
            derived("t", "varchar(10)", "a"),
            derived("day", "date", "date '2026-01-01' + a"),
            derived("at", "timestamp", "date '2026-01-01' + interval '90 minutes'"));
    Bound bound = bind(feed, "a\n7\n40000\n");
    assertEquals(List.of("7|7|14|7.00|1.75|7|2026-01-08|2026-01-01 01:30:00"), bound.rows());
    assertEquals(1, bound.rejects().size());
    Problem problem = bound.rejects().get(0).problems().get(0);
    assertEquals(RejectCode.OUT_OF_RANGE, problem.code());
    assertEquals("s", problem.column());
  }

  @Test
  void anExpressionWithoutResultIsAReject() throws IOException {
    Feed feed =
        feed(
            csv(), column("a", "integer"), derived("share", "decimal(9,2)", "round(100.0 / a, 2)"));
    Bound bound = bind(feed, "a\n4\n0\n");
    assertEquals(List.of("4|25.00"), bound.rows());
    assertEquals(
        List.of(
            "2 failed-expression share: 'round(100.0 / a, 2)' has no result: a division by zero"),
        bound.problems());
  }

  @Test
  void aDerivedColumnMayNotBeNullIfItMustNot() throws IOException {
    Feed feed =
        feed(csv(), column("a", "integer"), derived("b", "integer not null", "nullif(a, 1)"));
    Bound bound = bind(feed, "a\n1\n2\n");
    assertEquals(List.of("2|2"), bound.rows());
    assertEquals(List.of("1 null-value b: no value, but it is not null"), bound.problems());
  }

  @Test
  void checksRejectWhatIsFalseAndPassWhatIsUnknown() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("litres", "decimal(9,1)").withCheck(Formula.of("litres between 1 and 30000")),
            column("farm", "varchar(8)").withCheck(Formula.of("farm like 'WF%'")));
    Bound bound = bind(feed, "litres,farm\n812.5,WF1\n0.5,WF2\n40000,XX\n,\n");
    assertEquals(List.of("812.5|WF1", "-|-"), bound.rows());
    assertEquals(
        List.of(
            "2 failed-check litres: the check 'litres between 1 and 30000' does not hold",
            "3 failed-check litres: the check 'litres between 1 and 30000' does not hold;"
                + " failed-check farm: the check 'farm like 'WF%'' does not hold"),
        bound.problems());
    assertEquals("0.5", bound.rejects().get(0).problems().get(0).value());
  }

  @Test
  void aCheckIsNotAskedWhereItsColumnIsAtFaultAlready() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("litres", "decimal(9,1)").withCheck(Formula.of("litres > 1")),
            derived("x", "decimal(9,1)", "litres + 1"));
    Bound bound = bind(feed, "litres\nabc\n");
    assertEquals(
        List.of("1 bad-number litres: 'abc' is not a number of type decimal(9,1)"),
        bound.problems());
  }

  @Test
  void aConditionFiltersRowsAndCountsThem() throws IOException {
    Feed feed =
        where(
            feed(csv(), column("a", "integer"), column("b", "integer not null")),
            "a > 1 and kind <> 'test'");
    Bound bound = bind(feed, "a,b,kind\n1,1,x\n2,2,x\n3,3,test\n,4,x\n5,5,\n6,,x\n1,,x\n");
    assertEquals(List.of("2|2"), bound.rows());
    assertEquals(5, bound.filtered());
    assertEquals(List.of("6 null-value b: no value, but it is not null"), bound.problems());
  }

  @Test
  void aConditionWithoutResultIsAReject() throws IOException {
    Feed feed = where(feed(csv(), column("a", "integer")), "10 / a > 1");
    Bound bound = bind(feed, "a\n2\n0\n20\n");
    assertEquals(List.of("2"), bound.rows());
    assertEquals(1, bound.filtered());
    assertEquals(
        List.of("2 failed-expression : where '10 / a > 1' has no result: a division by zero"),
        bound.problems());
  }

  @Test
  void factsOfTheFileAreColumns() throws IOException {
    Feed feed =
        feed(
            csv(),
            column("a", "integer"),
            column("day", "date").withFrom(new FieldSource.OfFile("day")),
            column("file", "varchar(20)").withFrom(new FieldSource.OfFile("file.name")),
            column("size", "bigint").withFrom(new FieldSource.OfFile("file.size")),
            column("n", "bigint").withFrom(new FieldSource.OfFile(FileFacts.RECORD_NUMBER)));
    StringBuilder text = new StringBuilder("a\n");
    for (int i = 1; i <= 100; i++) {
      text.append(i).append('\n');
    }
    Bound bound = bind(feed, text.toString());
    assertEquals(100, bound.rows().size());
    assertEquals("1|2026-03-02|a.csv|77|1", bound.rows().get(0));
    assertEquals("100|2026-03-02|a.csv|77|100", bound.rows().get(99));
  }

  @Test
  void fieldsWithoutNamesAreCalledByTheirPositions() throws IOException {
    Feed feed =
        feed(
            headless(),
            column("a", "integer").withFrom(new FieldSource.At(1)),
            derived("b", "varchar(9)", "field_3 || field_2"));
    assertEquals(List.of("1|zy"), bind(feed, "1,y,z\n").rows());
    ExpressionFault fault =
        assertThrows(
            ExpressionFault.class,
            () -> FeedInputs.of(feed(headless(), derived("b", "text", "upper(name)"))));
    assertTrue(fault.getMessage().contains("write field_3"), fault.getMessage());
    assertEquals(6, fault.at());
  }

  private static Layout headless() {
    DelimitedLayout l = DelimitedLayout.plain("csv");
    return new DelimitedLayout(
        l.name(),
        ",",
        '"',
        -1,
        HeaderUse.ABSENT,
        0,
        "",
        List.of(""),
        false,
        false,
        false,
        l.shortRecords(),
        l.longRecords(),
        l.encoding(),
        l.lineEnd(),
        l.recordLimit(),
        l.fieldLimit());
  }

  @Test
  void fieldsOfJsonAreCalledByTheirPaths() throws IOException {
    Feed feed =
        where(
            feed(
                JsonLayout.plain("j"),
                column("id", "integer"),
                derived("name", "varchar(20)", "upper(\"$.lab.name\")")),
            "\"$.kind\" = 'a'");
    assertEquals(
        List.of("1|NORTH", "3|-"),
        bind(
                feed,
                "{\"id\":1,\"kind\":\"a\",\"lab\":{\"name\":\"North\"}}\n"
                    + "{\"id\":2,\"kind\":\"b\"}\n{\"id\":3,\"kind\":\"a\"}\n")
            .rows());
    ExpressionFault fault =
        assertThrows(
            ExpressionFault.class,
            () ->
                FeedInputs.of(
                    where(feed(JsonLayout.plain("j"), column("id", "integer")), "kind = 'a'")));
    assertTrue(fault.getMessage().contains("write its path, \"$.kind\""), fault.getMessage());
  }

  @Test
  void hostileTextsCostTheirRecordAtMost() {
    Feed widened = feed(csv(), derived("n", "text", "replace(a, 'a', repeat('x', 100000))"));
    assertTimeoutPreemptively(
        java.time.Duration.ofSeconds(20),
        () -> {
          Bound bound = bind(widened, "a\n" + "a".repeat(100_000) + "\nbbb\n");
          assertEquals(List.of("bbb"), bound.rows());
          assertTrue(
              bound.problems().get(0).contains("would be too long"), bound.problems()::toString);
          for (String pattern : List.of("(a|b|ab)*$", "(.*a){20}b", "(a*)*c")) {
            Feed like = feed(csv(), derived("n", "boolean", "regexp_like(a, '" + pattern + "')"));
            Bound fits =
                bind(like, "a\n" + "ab".repeat(50_000) + "\n" + "a".repeat(100_000) + "\n");
            assertEquals(2, fits.rows().size(), pattern);
          }
        });
  }
}
