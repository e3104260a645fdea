package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.table.SqlNames;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class GuessesTest {

  private static DelimitedLayout delimited(String text) throws IOException {
    return new DelimitedGuess(text.getBytes(StandardCharsets.UTF_8), Encoding.UTF_8)
        .guess()
        .orElseThrow();
  }

  private static String rows(String delimiter, int count) {
    StringBuilder rows = new StringBuilder();
    for (int i = 0; i < count; i++) {
      rows.append(
          String.join(
              delimiter, "" + (480_000 + i), "WF" + i, "2026-03-02", (i * 7 % 90) + ".5\n"));
    }
    return rows.toString();
  }

  @Nested
  class Delimiters {

    @ParameterizedTest
    @ValueSource(strings = {",", ";", "\t", "|", "||", "~", "^"})
    void areFound(String delimiter) throws IOException {
      DelimitedLayout layout =
          delimited(String.join(delimiter, "no", "farm", "day", "litres\n") + rows(delimiter, 40));
      assertEquals(delimiter, layout.delimiter());
      assertEquals(HeaderUse.NAMES, layout.header());
    }

    @Test
    void headersAreTold() throws IOException {
      assertEquals(HeaderUse.ABSENT, delimited(rows(",", 40)).header());
      assertEquals(HeaderUse.NAMES, delimited("a,b,c,d\n" + rows(",", 40)).header());
      assertEquals(
          HeaderUse.NAMES,
          delimited("name,city\nAda Brook,North\nBo Weir,Mill\nCy Gate,Haven\n").header());
      assertEquals(
          HeaderUse.ABSENT,
          delimited("Ada Brook,North\nBo Weir,Mill\nCy Gate,Haven\nDi Ridge,North\n").header());
    }

    @Test
    void quotesAreTold() throws IOException {
      assertEquals('"', delimited("a,b\n\"x, y\",1\n\"z\",2\n\"w, v\",3\n").quote());
      assertEquals('\'', delimited("a,b\n'x, y',1\n'z',2\n'w, v, u',3\n'k, l',4\n").quote());
      assertEquals('\\', delimited("a,b\n\"x \\\"q\\\" y\",1\n\"z\",2\n\"w \\\"\",3\n").escape());
    }

    @Test
    void linesAboveTheTableAreSkipped() throws IOException {
      DelimitedLayout layout =
          delimited("Dockets of March\nmade by hand\n\nno;farm;day;litres\n" + rows(";", 40));
      assertEquals(3, layout.skipLines());
      assertEquals(";", layout.delimiter());
      assertEquals(HeaderUse.NAMES, layout.header());
    }

    @Test
    void commentsAreTold() throws IOException {
      DelimitedLayout layout =
          delimited("# made on 2026-03-02\nno,farm,day,litres\n" + rows(",", 20) + "# end\n");
      assertEquals("#", layout.comment());
    }

    @Test
    void raggedRecordsAreFilled() throws IOException {
      StringBuilder text = new StringBuilder("a,b,c\n");
      for (int i = 0; i < 100; i++) {
        text.append(i % 4 == 0 ? i + ",x\n" : i + ",x,y\n");
      }
      assertEquals(ShortRecords.FILL, delimited(text.toString()).shortRecords());
    }

    @Test
    void aDelimiterAtTheEndIsTold() throws IOException {
      assertTrue(delimited("a;b;\n1;2;\n3;4;\n5;6;\n").trailingDelimiter());
      assertFalse(delimited("a;b\n1;2\n3;4\n5;6\n").trailingDelimiter());
    }

    @Test
    void blanksAroundValuesAreTrimmed() throws IOException {
      assertTrue(delimited("a , b\n 1 , x\n 2 , y\n 3 , z\n").trim());
    }

    @Test
    void proseHasNoDelimiter() throws IOException {
      String prose = "It was a quiet morning.\nNothing happened\nuntil the tanker came.\n";
      assertTrue(
          new DelimitedGuess(prose.getBytes(StandardCharsets.UTF_8), Encoding.UTF_8)
              .guess()
              .isEmpty());
    }

    @Test
    void marksOfNullAreThoseThatAreUnlikeTheirColumn() throws IOException {
      DelimitedLayout layout = delimited("n,t\n1,a\n-,b\n3,-\nNA,n/a\n5,e\n");
      TextTable table =
          TextTable.read(
              "n,t\n1,a\n-,b\n3,-\nNA,n/a\n5,e\n".getBytes(StandardCharsets.UTF_8),
              layout,
              dev.dusky.core.record.FieldRequest.of(List.of()),
              100);
      assertEquals(
          List.of("", "-", "NA", "n/a"), DelimitedGuess.nulls(table, 0, new java.util.HashSet<>()));
    }
  }

  @Nested
  class Places {

    @Test
    void columnsOfFixedWidthAreFoundBetweenBlanks() {
      String text =
          "TANKER PLATE     CAPACITY\n"
              + "T01    WD 4471      18000\n"
              + "T02    HB 12         9500\n"
              + "T13    RL 900       21000\n";
      FixedLayout layout = new FixedGuess(text, Encoding.UTF_8).guess().orElseThrow();
      assertEquals(
          List.of("tanker", "plate", "capacity"),
          layout.fields().stream().map(FixedField::name).toList());
      assertEquals(1, layout.skipLines());
      assertEquals(FixedField.Alignment.RIGHT, layout.fields().get(2).align());
      assertEquals(1, layout.fields().get(0).start());
      assertEquals(8, layout.fields().get(1).start());
    }

    @Test
    void textOfUnevenLinesHasNone() {
      assertTrue(
          new FixedGuess("a bc\nsomething much longer than that line\nx\n", Encoding.UTF_8)
              .guess()
              .isEmpty());
    }
  }

  @Nested
  class Kinds {

    @Test
    void areToldByTheFirstBytes() {
      assertEquals(ContentKind.PARQUET, kind("PAR1xxxx"));
      assertEquals(ContentKind.ORC, kind("ORCxxxx"));
      assertEquals(ContentKind.AVRO, kind("Obj\u0001xxxx"));
      assertEquals(ContentKind.ARCHIVE, kind("PK\u0003\u0004....farms.csv"));
      assertEquals(ContentKind.WORKBOOK, kind("PK\u0003\u0004....[Content_Types].xml"));
      assertEquals(ContentKind.XML, kind("<?xml version=\"1.0\"?><a/>"));
      assertEquals(ContentKind.XML, kind("<farms>\n<farm/></farms>"));
      assertEquals(ContentKind.JSON, kind("{\"a\": 1}"));
      assertEquals(ContentKind.JSON, kind(" [ {\"a\": 1} ]"));
      assertEquals(ContentKind.TEXT, kind("a,b\n1,2\n"));
      assertEquals(ContentKind.TEXT, kind("[section]\nkey=value\n"));
      assertEquals(ContentKind.UNKNOWN, kind("\u0000\u0001\u0000\u0000\u0002\u0000x"));
    }

    private ContentKind kind(String text) {
      return ContentKind.of(text.getBytes(StandardCharsets.ISO_8859_1));
    }

    @Test
    void encodingsAreToldByTheBytes() {
      String text = "no,name\n1,Prés €\n";
      assertEquals(Encoding.UTF_8, ContentKind.encoding(text.getBytes(StandardCharsets.UTF_8)));
      assertEquals(
          Encoding.UTF_16LE, ContentKind.encoding(text.getBytes(StandardCharsets.UTF_16LE)));
      assertEquals(
          Encoding.UTF_16BE, ContentKind.encoding(text.getBytes(StandardCharsets.UTF_16BE)));
      assertEquals(
          Encoding.UTF_16LE,
          ContentKind.encoding(("\ufeff" + text).getBytes(StandardCharsets.UTF_16LE)));
      assertEquals(
          Encoding.WINDOWS_1252,
          ContentKind.encoding(text.getBytes(Charset.forName("windows-1252"))));
      assertEquals(
          Encoding.ISO_8859_1,
          ContentKind.encoding("1,Prés\n".getBytes(StandardCharsets.ISO_8859_1)));
      byte[] cut = "aé".getBytes(StandardCharsets.UTF_8);
      assertEquals(Encoding.UTF_8, ContentKind.encoding(java.util.Arrays.copyOf(cut, 2)));
      assertNull(ContentKind.encoding(new byte[] {1, 0, 0, 0, 5, 0, 0, 0, 0}));
    }
  }

  @Nested
  class Names {

    @Test
    void areGoodSqlNames() {
      assertEquals(
          List.of(
              "docket_no",
              "farm_code",
              "member_since",
              "litres_percent",
              "prix_ttc",
              "n2nd",
              "field_7",
              "select_",
              "grosse",
              "farm_code_2",
              "dusky_row_",
              "value_"),
          SqlNames.of(
              List.of(
                  "Docket No.",
                  "farmCode",
                  "MEMBER SINCE",
                  "litres (%)",
                  "Prix TTC",
                  "2nd",
                  "***",
                  "SELECT",
                  "Größe".replace("ö", "o"),
                  "FARM-CODE",
                  "dusky_row",
                  "value")));
    }

    @Test
    void areShortEnough() {
      assertEquals(60, SqlNames.of(List.of("x".repeat(300))).get(0).length());
    }

    @Test
    void twoThousandColumnsGetNamesOfTheirOwn() {
      List<String> same = java.util.Collections.nCopies(2_000, "Same");
      assertEquals(2_000, SqlNames.of(same).stream().distinct().count());
    }
  }

  @Nested
  class Patterns {

    @Test
    void takeWhatChangesFromFileToFile() {
      assertEquals(
          "collections/{day:date}/*.csv.gz",
          PatternGuess.pattern(
              List.of(
                  "collections/2026-03-02/05.csv.gz", "collections/2026-03-03/06-again.csv.gz")));
      assertEquals(
          "farms/registry-*.txt", PatternGuess.pattern(List.of("farms/registry-2026-03-01.txt")));
      assertEquals(
          "assays/day={day:date}/part-*.jsonl",
          PatternGuess.pattern(
              List.of(
                  "assays/day=2026-03-02/part-0.jsonl", "assays/day=2026-03-03/part-11.jsonl")));
      assertEquals(
          "x/region={region}/a.csv",
          PatternGuess.pattern(List.of("x/region=north/a.csv", "x/region=mill/a.csv")));
      assertEquals("x/**/*.csv", PatternGuess.pattern(List.of("x/a.csv", "x/y/z/b.csv")));
      assertEquals("*.csv", PatternGuess.pattern(List.of("a.csv", "b.csv")));
    }

    @Test
    void groupFilesByFolderAndShape() {
      Map<String, List<String>> groups =
          PatternGuess.groups(
              List.of(
                  "collections/2026-03-02/05.csv.gz",
                  "collections/2026-03-03/05.csv.gz",
                  "prices/prices-2026-03.xlsx",
                  "prices/prices-history.parquet",
                  "farms/registry.txt"));
      assertEquals(
          List.of("collections", "farms", "prices_history", "prices"),
          List.copyOf(groups.keySet()));
      assertEquals(2, groups.get("collections").size());
    }
  }
}
