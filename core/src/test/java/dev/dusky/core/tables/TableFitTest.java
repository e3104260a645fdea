package dev.dusky.core.tables;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TableFitTest {

  private static final TableName NAME = new TableName("intake", "collection");

  private static Feed feed(FeedColumn... columns) {
    return new Feed(
        "f",
        "yard",
        FilePattern.of("*"),
        DelimitedLayout.plain("l"),
        NAME,
        false,
        List.of(columns),
        Optional.empty(),
        List.of(),
        FeedPolicies.DEFAULT.withRejectCap(10));
  }

  private static TableColumn column(String name, String type, boolean notNull, boolean filled) {
    return new TableColumn(name, SqlType.parse(type), type, notNull, filled);
  }

  private static FeedColumn fed(String name, String type, boolean notNull) {
    return FeedColumn.plain(name, SqlType.parse(type).orElseThrow(), notNull);
  }

  private static List<String> problems(Feed feed, TableColumn... columns) {
    return TableFit.problems(feed, new TableShape(NAME, Arrays.asList(columns)));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "bigint; integer; true",
        "integer; bigint; false",
        "decimal(9,1); decimal(9,1); true",
        "decimal(9,2); decimal(9,1); false",
        "decimal(10,2); decimal(9,1); true",
        "varchar(10); varchar(8); true",
        "varchar(8); varchar(10); false",
        "text; varchar(8); true",
        "varchar(8); text; false",
        "varchar(8); varchar; false",
        "varchar; text; true",
        "char(8); varchar(8); true",
        "double precision; real; true",
        "real; double precision; false",
        "date; timestamp; false",
        "timestamp; timestamp; true",
        "timestamp with time zone; timestamp; false",
        "uuid; text; false",
        "varbinary; bytea; true",
        "varbinary(4); varbinary(8); false",
        "bigint; decimal(5,0); false"
      })
  void aTypeHoldsAnotherOnlyIfNoValueIsLost(String holder, String value, boolean holds) {
    assertEquals(
        holds, SqlType.parse(holder).orElseThrow().holds(SqlType.parse(value).orElseThrow()));
  }

  @Test
  void aTableThatFitsHasNoProblems() {
    assertEquals(
        List.of(),
        problems(
            feed(fed("a", "bigint", true), fed("b", "varchar(8)", false)),
            column("a", "bigint", true, false),
            column("b", "varchar(20)", false, false),
            column("extra", "text", false, false),
            column("id", "bigint", true, true),
            column("dusky_load", "bigint", true, false),
            column("dusky_file", "bigint", true, false),
            column("dusky_row", "bigint", true, false)));
  }

  @Test
  void allProblemsAreToldAtOnce() {
    List<String> problems =
        problems(
            feed(
                fed("a", "bigint", true),
                fed("b", "varchar(20)", false),
                fed("c", "text", false),
                fed("d", "date", false)),
            column("a", "integer", true, false),
            column("b", "varchar(8)", false, false),
            column("c", "text", true, false),
            column("must", "text", true, false),
            new TableColumn("e", Optional.empty(), "money", false, false));
    assertEquals(4, problems.size(), problems::toString);
    assertTrue(problems.get(0).contains("column a is integer"), problems::toString);
    assertTrue(problems.get(1).contains("varchar(8)"), problems::toString);
    assertTrue(problems.get(2).contains("column d does not exist"), problems::toString);
    assertTrue(problems.get(3).contains("column must"), problems::toString);
  }

  @Test
  void namesArePlainIdentifiers() {
    assertEquals(Optional.of(NAME), TableName.parse("Intake.Collection"));
    assertEquals(Optional.of(new TableName("public", "t")), TableName.parse("t"));
    assertTrue(TableName.parse("a.b.c").isEmpty());
    assertTrue(TableName.parse("a b").isEmpty());
    assertTrue(TableName.parse("x\"; drop table y").isEmpty());
  }
}
