package dev.dusky.core.advice;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class AdviceTest {

  private static Feed feed(FeedColumn column) {
    return new Feed(
        "collections",
        "yard",
        FilePattern.of("*"),
        DelimitedLayout.plain("l"),
        new TableName("intake", "collection"),
        false,
        List.of(column),
        Optional.empty(),
        List.of(),
        FeedPolicies.DEFAULT);
  }

  private static FeedColumn column(String name, String type) {
    return FeedColumn.plain(name, SqlType.parse(type).orElseThrow(), false);
  }

  private static ProblemGroup group(RejectCode code, String column, String... values) {
    ProblemGroups groups = new ProblemGroups();
    int line = 1;
    for (String value : values) {
      Sighting sighting = new Sighting(line, "a.csv", line, ++line, "", 1, Instant.EPOCH);
      groups.add("collections", sighting, new Problem(code, column, value, "message"));
    }
    return groups.groups().get(0);
  }

  private static List<Remedy> ways(RejectCode code, FeedColumn column, String... values) {
    return Advice.of(feed(column), group(code, column.name(), values), List.of());
  }

  @Test
  void aLongTextNeedsAsMuchRoomAsTheLongest() {
    List<Remedy> ways =
        ways(RejectCode.TEXT_TOO_LONG, column("farm", "varchar(4)"), "WF00001", "WF000000002");
    assertEquals(
        List.of("alter table intake.collection alter column farm set data type varchar(11)"),
        ways.get(0).statements());
    assertEquals("varchar(11)", ways.get(0).column().orElseThrow().type().toString());
    assertTrue(ways.get(1).text().contains("'WF00001', 'WF000000002'"), ways::toString);
  }

  @Test
  void aNumberOutOfRangeNeedsTheNextTypeThatHoldsAll() {
    assertEquals(
        "integer",
        ways(RejectCode.OUT_OF_RANGE, column("n", "smallint"), "40000", "-1")
            .get(0)
            .column()
            .orElseThrow()
            .type()
            .toString());
    assertEquals(
        "bigint",
        ways(RejectCode.OUT_OF_RANGE, column("n", "integer"), "40000", "9000000000")
            .get(0)
            .column()
            .orElseThrow()
            .type()
            .toString());
    assertEquals(
        "decimal(7,1)",
        ways(RejectCode.OUT_OF_RANGE, column("n", "decimal(4,1)"), "410000", "1000")
            .get(0)
            .column()
            .orElseThrow()
            .type()
            .toString());
  }

  @Test
  void decimalsCanBeKeptOrRounded() {
    List<Remedy> ways =
        ways(RejectCode.TOO_MANY_DECIMALS, column("n", "decimal(9,1)"), "1.25", "2.125");
    assertEquals("decimal(11,3)", ways.get(0).column().orElseThrow().type().toString());
    assertEquals(
        "round(cast(n as decimal(38,3)), 1)",
        ways.get(1).column().orElseThrow().value().orElseThrow().text());
  }

  @Test
  void theDecimalMarkThatReadsAllIsFound() {
    Remedy way = ways(RejectCode.BAD_NUMBER, column("n", "decimal(9,2)"), "1.234,50", "7,5").get(0);
    assertEquals(',', way.column().orElseThrow().marks().decimal());
    assertEquals(".", way.column().orElseThrow().marks().group());
    assertTrue(way.text().contains("all 2 can be read"), way::text);
    Remedy some = ways(RejectCode.BAD_NUMBER, column("n", "decimal(9,2)"), "7,5", "8l2.5").get(0);
    assertTrue(some.text().contains("1 of the 2 can be read"), some::text);
    Remedy words = ways(RejectCode.BAD_NUMBER, column("n", "integer"), "n/a", "-").get(0);
    assertEquals(Optional.of("nulls: [\"\", \"n/a\", \"-\"]"), words.layoutKey());
  }

  @Test
  void thePatternThatReadsAllDatesIsFoundIfThereIsOne() {
    FeedColumn day = column("day", "date").withPattern("dd/MM/yyyy");
    Remedy way = ways(RejectCode.BAD_DATE, day, "2026-03-04", "2026-12-31").get(0);
    assertEquals(Optional.of("yyyy-MM-dd"), way.column().orElseThrow().pattern());
    assertTrue(
        ways(RejectCode.BAD_DATE, day, "31/02/2026").get(0).text().contains("No pattern reads it"));
  }

  @Test
  void missingKeysAreNamedWithTheInsertThatAddsThem() {
    FeedColumn farm = column("farm", "varchar(8)");
    TableRule rule =
        new TableRule.Reference(
            "farm_fk", List.of("farm"), new TableName("dairy", "farm"), List.of("code"));
    List<Remedy> ways =
        Advice.of(
            feed(farm), group(RejectCode.UNKNOWN_KEY, "farm", "X1", "O'Y", "X1"), List.of(rule));
    assertEquals(
        List.of("insert into dairy.farm (code) values ('X1'), ('O''Y')"), ways.get(0).statements());
  }

  @ParameterizedTest
  @EnumSource(RejectCode.class)
  void everyCodeHasAWayOut(RejectCode code) {
    List<Remedy> ways = ways(code, column("n", "integer"), "99999999999");
    assertTrue(ways.size() >= (code == RejectCode.BAD_JSON ? 1 : 2), () -> code + ": " + ways);
  }

  /** Another type for the whole column would not read the part of it that is at fault. */
  @ParameterizedTest
  @EnumSource(
      value = RejectCode.class,
      names = {"BAD_NUMBER", "TEXT_TOO_LONG", "BAD_DATE", "NULL_VALUE", "BAD_JSON"})
  void aNestedColumnIsToChangeItsForm(RejectCode code) {
    NestedForm form = new NestedForm.Items(new NestedForm.Part(SqlType.of(TypeKind.DATE), false));
    Remedy way = ways(code, column("n", "json").withType(SqlType.nested(form)), "x").get(0);
    assertTrue(way.text().contains("change what nested declares of column n"), way::text);
    assertEquals(Optional.empty(), way.column());
  }

  @Test
  void valuesAreToldByTheirExtremes() {
    ValueFacts values = group(RejectCode.FAILED_CHECK, "n", "10", "9", "-3", "10").values();
    assertEquals(List.of("10", "9", "-3"), values.values());
    assertEquals(Optional.of("-3"), values.smallest());
    assertEquals(Optional.of("10"), values.largest());
    ValueFacts texts = group(RejectCode.FAILED_CHECK, "n", "10", "9", "b").values();
    assertEquals(Optional.of("10"), texts.smallest());
    assertEquals(Optional.of("b"), texts.largest());
    assertEquals("10", texts.longest());
  }
}
