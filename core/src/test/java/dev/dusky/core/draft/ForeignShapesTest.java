package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Files as other programs write them: what is lost or changed in a draft is at least marked. */
class ForeignShapesTest {

  /** A guess with its evidence. */
  private record Guessed(DelimitedLayout layout, DelimitedGuess guess) {

    boolean doubts(String about) {
      return guess.evidence().stream().anyMatch(e -> e.about().equals(about) && e.doubtful());
    }
  }

  private static Guessed guess(String text) throws IOException {
    DelimitedGuess guess =
        new DelimitedGuess(text.getBytes(StandardCharsets.UTF_8), Encoding.UTF_8);
    return new Guessed(guess.guess().orElseThrow(), guess);
  }

  private static String rows(int count, String form) {
    StringBuilder rows = new StringBuilder();
    for (int i = 0; i < count; i++) {
      rows.append(form.replace("#", Integer.toString(i))).append('\n');
    }
    return rows.toString();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "id,name,litres,more\n",
        "id,name\n",
        "1,a,2\n2,b,3,4\n",
        "1,a\n1,b,2,3\n1,c,2,3\n"
      })
  void rowsWithAFieldMoreOrLessAreNotLinesAboveTheTable(String above) throws IOException {
    Guessed guessed = guess(above + rows(28, "#,farm #,#.5"));
    assertEquals(0, guessed.layout().skipLines());
  }

  @ParameterizedTest
  @ValueSource(strings = {",", ";", "\t", "^"})
  void quotesRoundOneDelimiterInEachRecordAreQuotes(String delimiter) throws IOException {
    String row = "WF#,#,\"left, then \"\"right\"\" #\"".replace(",", delimiter);
    Guessed guessed = guess(rows(30, row));
    assertEquals('"', guessed.layout().quote());
    assertEquals(delimiter, guessed.layout().delimiter());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "~", "^", "\u0001", "\u001f", "||", "!", "#", "$", "*", "=", "\u00a6", "\u00a7", "::",
        "~|~", "!#"
      })
  void smallFilesMayHaveAnyDelimiter(String delimiter) throws IOException {
    for (int count : new int[] {2, 3, 40}) {
      StringBuilder text = new StringBuilder("docket,farm,litres\n");
      for (int i = 0; i < count; i++) {
        text.append(i).append(",Farm ").append(i % 7).append(',').append(i).append(".5\n");
      }
      Guessed guessed = guess(text.toString().replace(",", delimiter));
      assertEquals(delimiter, guessed.layout().delimiter());
      assertEquals(HeaderUse.NAMES, guessed.layout().header());
      boolean usual = "~^\u0001\u001f||".contains(delimiter);
      assertEquals(!usual, guessed.doubts("delimiter"), "marked if unusual: " + delimiter);
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "remark\n@1 is late!\n@2 is late!\n@3 is late!\n",
        "price\n$ 1\n$ 2\n$ 3\n",
        "mail\na1@wrenfold.example\na2@wrenfold.example\na3@wrenfold.example\n",
        "page\nhttps://wrenfold.example/a?b=1#c\nhttps://wrenfold.example/a?b=2#c\n",
        "share\n10 %\n20 %\n30 %\n",
        "*1\n*2\n*3\n"
      })
  void signsWithinValuesAreNoDelimiters(String text) throws IOException {
    DelimitedGuess guess =
        new DelimitedGuess(text.getBytes(StandardCharsets.UTF_8), Encoding.UTF_8);
    assertEquals(Optional.empty(), guess.guess());
  }

  @Test
  void titlesAreStillPassedOver() throws IOException {
    Guessed guessed =
        guess("Milk of March\nWrenfold, all farms\n\na,b,c,d,e\n" + rows(20, "#,x,#.5,y,#"));
    assertEquals(3, guessed.layout().skipLines());
    assertTrue(guessed.doubts("skip-lines"), "the second title splits, so it is marked");
    assertEquals(HeaderUse.NAMES, guessed.layout().header());
  }

  @Test
  void aHeaderWithOneNameFewerLeavesTheFirstColumnWithoutOne() throws IOException {
    Guessed guessed = guess("litres,fat\n" + rows(12, "WF#,#.5,4.1"));
    assertEquals(HeaderUse.SKIP, guessed.layout().header());
    assertEquals(List.of("litres", "fat"), guessed.guess().shiftedNames());
    assertTrue(guessed.doubts("first column"));
  }

  @Test
  void recordsOfTextsAloneAreNoHeaderWithoutEvidence() throws IOException {
    Guessed data =
        guess(
            "Brook Farm,North,Ada\nWeir Farm,South,Ben\nMill Farm,North,Cyd\nHill Farm,East,Dot\n");
    assertTrue(data.layout().header() == HeaderUse.ABSENT || data.doubts("header"));
    StringBuilder many = new StringBuilder();
    String[] regions = {"North", "South", "East", "West"};
    for (int i = 0; i < 60; i++) {
      many.append("Farm ").append((char) ('A' + i % 26)).append(i % 7 == 0 ? " Hill" : " Brook");
      many.append(',').append(regions[i % 4]).append(",open\n");
    }
    assertEquals(HeaderUse.ABSENT, guess(many.toString()).layout().header());
    Guessed named = guess("farm_name,region,state\n" + many);
    assertEquals(HeaderUse.NAMES, named.layout().header());
    assertFalse(named.doubts("header"));
  }

  @Test
  void aNullMarkAmongTextsIsMarkedAndOneAmongNumbersIsNot() throws IOException {
    java.util.Set<String> doubtful = new java.util.TreeSet<>();
    TextTable texts =
        new TextTable(
            List.of(),
            List.of(List.of("a", "1"), List.of("NULL", "NULL"), List.of("b", "2")),
            List.of(1L, 2L, 3L),
            0);
    assertEquals(List.of("", "NULL"), DelimitedGuess.nulls(texts, 0, doubtful));
    assertEquals(java.util.Set.of(), doubtful, "the numbers tell");
    TextTable only =
        new TextTable(List.of(), List.of(List.of("a"), List.of("NULL")), List.of(1L, 2L), 0);
    DelimitedGuess.nulls(only, 0, doubtful);
    assertEquals(java.util.Set.of("NULL"), doubtful);
  }

  @Test
  void commentsMayHaveDelimitersAndBeMany() throws IOException {
    String comments =
        "# made by tool, version 1, on Monday\n# a, b, c\n# more, of, the, same, kind\n";
    Guessed guessed = guess(comments + "a,b,c\n1,2,3\n4,5,6\n");
    assertEquals("#", guessed.layout().comment());
    assertEquals(0, guessed.layout().skipLines());
    assertEquals(HeaderUse.NAMES, guessed.layout().header());
    Guessed header = guess("#id,name,litres\n" + rows(9, "#,x#,1.5"));
    assertEquals("", header.layout().comment(), "a header may begin with the mark");
  }

  private static TypeKind kind(String... values) {
    return ColumnGuess.of(List.of(values), Optional.empty()).type().kind();
  }

  @Test
  void numbersAsProgramsPrintThemAreNumbers() {
    assertEquals(TypeKind.DOUBLE, kind("0.1", "0.30000000000000004", "12.5"));
    assertEquals(TypeKind.DOUBLE, kind("1", "2", "1e-07"));
    assertEquals(TypeKind.DOUBLE, kind("5.", ".5", "1.5E+10"));
    assertEquals(TypeKind.DECIMAL, kind("0.1", "12.50"));
    assertEquals(TypeKind.VARCHAR, kind("12E5", "13E7"), "codes stay as they are");
    assertEquals(TypeKind.VARCHAR, kind("007", "1e-07"));
  }

  @Test
  void hashesStayTextsAndUuidsAreThoseWithHyphens() {
    assertEquals(TypeKind.VARCHAR, kind("d41d8cd98f00b204e9800998ecf8427e"));
    assertEquals(TypeKind.UUID, kind("d41d8cd9-8f00-b204-e980-0998ecf8427e"));
  }

  @Test
  void littleEvidenceMakesRoomyTypes() {
    ColumnDraft small =
        ColumnDraft.of(
            "n",
            new dev.dusky.core.feed.FieldSource.Next(),
            ColumnGuess.of(List.of("1", "2"), Optional.empty()),
            List.of("1", "2"),
            2);
    assertEquals(SqlType.of(TypeKind.BIGINT), small.generous(true).column().type());
    assertEquals(SqlType.of(TypeKind.INTEGER), small.generous(false).column().type());
    List<String> many = new ArrayList<>();
    for (int i = 0; i < 50; i++) {
      many.add("WF" + i);
    }
    ColumnDraft text =
        ColumnDraft.of(
            "t",
            new dev.dusky.core.feed.FieldSource.Next(),
            ColumnGuess.of(many, Optional.empty()),
            many,
            50);
    assertTrue(text.column().notNull());
    assertFalse(text.generous(false).column().notNull(), "a part says nothing of missing values");
    assertNotEquals(text.column().type(), text.generous(true).column().type());
  }

  @Test
  void namesOfLoneFilesKeepTheDigitsOfWords() {
    assertEquals("in/co2.csv", PatternGuess.pattern(List.of("in/co2.csv")));
    assertEquals("in/prices-*.csv", PatternGuess.pattern(List.of("in/prices-2026-03.csv")));
    assertEquals("in/part_*.csv", PatternGuess.pattern(List.of("in/part_7.csv")));
  }
}
