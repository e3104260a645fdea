package dev.dusky.core.expression;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.type.TypeKind;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is wrong with an expression is found before any row, and pointed at. */
class FaultsTest {

  private static Columns columns() {
    Columns columns = new Columns();
    columns.add("litres", TypeKind.DECIMAL);
    columns.add("docket_no", TypeKind.BIGINT);
    columns.add("farm", TypeKind.VARCHAR);
    columns.add("day", TypeKind.DATE);
    columns.add("at", TypeKind.TIMESTAMP);
    columns.add("ok", TypeKind.BOOLEAN);
    columns.add("doc", TypeKind.JSON);
    return columns;
  }

  private static ExpressionFault fault(String text) {
    return assertThrows(
        ExpressionFault.class, () -> Evaluator.of(Formula.of(text), columns()), text);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "`` ~ 1 ~ a value is expected here, not the end",
        "litres + ~ 9 ~ a value is expected here, not the end",
        "(litres ~ 8 ~ ) is expected here, not the end",
        "litres) ~ 7 ~ an operator or the end is expected here, not ')'",
        "litres litres ~ 8 ~ an operator or the end is expected here",
        "'open ~ 1 ~ the quote that opens here is never closed",
        "litres ? 2 ~ 8 ~ '?' is not allowed here",
        "1a ~ 2 ~ a number must not run into a name",
        "liters > 1 ~ 1 ~ there is no column 'liters'; known are litres, docket_no",
        "lower(litres) ~ 1 ~ lower(decimal) does not exist; there is lower(text)",
        "uper(farm) ~ 1 ~ there is no function uper",
        "farm + 1 ~ 6 ~ + takes numbers, not a value of type text",
        "farm = 5 ~ 6 ~ = cannot compare a value of type text with one of type integer",
        "litres = 'lots' ~ 10 ~ 'lots' is not a value of type decimal",
        "docket_no = '1.5' ~ 13 ~ '1.5' is not a value of type bigint",
        "day = '2026-02-30' ~ 7 ~ '2026-02-30' is not a value of type date",
        "day > 5 ~ 5 ~ > cannot compare a value of type date with one of type integer",
        "litres between 1 and 'x' ~ 22 ~ 'x' is not a value of type decimal",
        "litres in (1, 'two') ~ 15 ~ 'two' is not a value of type decimal",
        "not litres ~ 5 ~ a condition must be true or false, this is of type decimal",
        "litres and ok ~ 1 ~ a condition must be true or false",
        "case when litres then 1 end ~ 11 ~ a condition must be true or false",
        "case end ~ 6 ~ a value is expected here",
        "case ok end ~ 9 ~ when is expected here, not 'end'",
        "case when ok then 1 else farm end ~ 26 ~ this is of type text, but what precedes it",
        "coalesce(litres, day) ~ 18 ~ this is of type date, but what precedes it is of type decimal",
        "cast(farm as number) ~ 14 ~ 'number' is not a SQL type",
        "cast(day as integer) ~ 6 ~ a value of type date cannot be cast to integer",
        "cast(ok as bigint) ~ 6 ~ a value of type boolean cannot be cast to bigint",
        "cast('abc' as date) ~ 6 ~ 'abc' is not a value of type date",
        "extract(hour from day) ~ 9 ~ hour cannot be taken from a date",
        "extract(fortnight from day) ~ 9 ~ fortnight cannot be taken",
        "extract(julian from at) ~ 9 ~ cast to it first",
        "date_trunc('eon', at) ~ 12 ~ 'eon' is not a unit",
        "regexp_like(farm, '(a)\\1') ~ 19 ~ is not a regular expression of RE2",
        "regexp_like(farm, '(?=a)b') ~ 19 ~ is not a regular expression of RE2",
        "regexp_like(farm, '(') ~ 19 ~ is not a regular expression of RE2",
        "day + litres ~ 5 ~ only whole days or an interval can be added to",
        "interval '1 day' ~ 10 ~ an interval can only be added to",
        "day + interval '1 fortnight' ~ 16 ~ 'fortnight' is not a unit of time",
        "day + interval 'soon' ~ 16 ~ 'soon' is not an interval",
        "day + interval '1.5 days' ~ 16 ~ only seconds may have decimals",
        "at * 2 ~ 4 ~ * takes numbers, not a value of type timestamp",
        "litres || docket_no ~ 8 ~ || needs a text on one side at least",
        "litres < 1 < 2 ~ 12 ~ comparisons do not chain; use and",
        "ok is maybe ~ 7 ~ null, true, false, unknown or distinct from must follow is",
        "farm like 5 ~ 11 ~ like takes texts, this is of type integer",
        "doc = doc ~ 5 ~ values of type json have no order and no equality",
        "substring(farm) ~ 1 ~ substring(text) does not exist; there is substring(text, integer, integer)",
        "round(farm) ~ 1 ~ round(text) does not exist",
        "nullif(litres) ~ 1 ~ nullif takes 2 arguments, not 1",
        "1.5 % 2.0e0::double precision ~ 5 ~ % does not take floating-point numbers",
        "extract(day) ~ 12 ~ from is expected here, not ')'",
        "position('a', farm) ~ 13 ~ in is expected here, not ','",
        "1e99999 ~ 1 ~ the number is too large"
      })
  void arePointedAt(String text, int character, String message) {
    ExpressionFault fault = fault(text);
    assertEquals(character, fault.at() + 1, fault.getMessage());
    assertTrue(fault.getMessage().contains(message), fault.getMessage());
  }

  @Test
  void aDeepExpressionIsRefused() {
    assertTrue(fault("(".repeat(1_000) + "1").getMessage().contains("nested too deeply"));
    assertTrue(fault("- ".repeat(1_000) + "1").getMessage().contains("nested"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "litres > 10 and farm like 'WF%'",
        "UPPER(Farm) = 'X'",
        "case when ok then litres else 0 end",
        "litres * 1.03 -- with premium",
        "(((litres)))",
        "\"litres\" > 1",
        "not not ok",
        "not ok is true",
        "litres not between 1 and 2 and ok",
        "farm not in ('a') or farm not like 'b'",
        "at >= timestamp '2026-01-01 00:00:00'",
        "json_value(doc, '$.a' returning integer) = 3"
      })
  void soundExpressionsCompile(String text) {
    Evaluator.of(Formula.of(text), columns());
  }

  @Test
  void namesAreFoundEverywhere() {
    assertEquals(
        List.of("a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "k", "l"),
        Formula.of(
                "case a when b then c else upper(d) end = cast(e as text) and f in (g, 1) or"
                    + " h between i and j or k like l or -a is null")
            .names());
  }

  @Test
  void aConditionMustBeOne() {
    ExpressionFault fault =
        assertThrows(
            ExpressionFault.class, () -> Evaluator.condition(Formula.of("litres + 1"), columns()));
    assertTrue(fault.getMessage().contains("must be true or false"), fault.getMessage());
    assertEquals(TypeKind.BOOLEAN, Evaluator.condition(Formula.of("litres > 1"), columns()).type());
  }

  @Test
  void typesAreKnownBeforeTheFirstRow() {
    assertEquals(TypeKind.DECIMAL, type("litres * 2"));
    assertEquals(TypeKind.BIGINT, type("docket_no + 1"));
    assertEquals(TypeKind.INTEGER, type("length(farm)"));
    assertEquals(TypeKind.TEXT, type("farm || 1"));
    assertEquals(TypeKind.DATE, type("day + 1"));
    assertEquals(TypeKind.INTEGER, type("day - day"));
    assertEquals(TypeKind.TIMESTAMP, type("day + interval '1 hour'"));
    assertEquals(TypeKind.DOUBLE, type("docket_no * 1.5::double precision"));
    assertFalse(type("ok") != TypeKind.BOOLEAN);
  }

  private static TypeKind type(String text) {
    return Evaluator.of(Formula.of(text), columns()).type();
  }
}
