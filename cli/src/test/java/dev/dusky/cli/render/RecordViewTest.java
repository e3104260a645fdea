package dev.dusky.cli.render;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.mend.MarkedRecord;
import dev.dusky.core.mend.MarkedRecord.Mark;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import java.util.List;
import org.junit.jupiter.api.Test;

class RecordViewTest {

  private static Mark mark(String column, int from, int to) {
    return new Mark(new Problem(RejectCode.BAD_NUMBER, column, "", "is not a number"), from, to);
  }

  private static List<String> lines(int width, long line, String text, Mark... marks) {
    return new RecordView(new Style(false), width)
        .lines(new MarkedRecord(text, List.of(marks)), line);
  }

  @Test
  void theFieldIsUnderlinedAndTheReasonStandsBelow() {
    assertEquals(
        List.of(
            "   12 | 1,8l2.5,x", "      |   ^^^^^", "      | litres: is not a number  bad-number"),
        lines(80, 12, "1,8l2.5,x", mark("litres", 2, 7)));
  }

  @Test
  void invisibleCharactersAreVisibleAndTheMarkStandsUnderItsField() {
    assertEquals(
        List.of(
            "    7 | a\u2409<U+FEFF>,\u237db\u00b7\u00b7",
            "      |             ^",
            "      | n: is not a number  bad-number"),
        lines(80, 7, "a\t\ufeff,\u00a0b  ", mark("n", 5, 6)));
  }

  @Test
  void aRecordOfSeveralLinesKeepsTheirNumbers() {
    assertEquals(
        List.of(
            "    9 | 1,\"two\u240a",
            "   10 | lines\",x",
            "      |        ^",
            "      | n: is not a number  bad-number"),
        lines(80, 9, "1,\"two\nlines\",x", mark("n", 14, 15)));
  }

  @Test
  void ofALongRecordThePartAroundTheFaultIsShown() {
    String text = "a".repeat(300) + ",8l2.5," + "b".repeat(300);
    List<String> lines = lines(60, 3, text, mark("n", 301, 306));
    assertTrue(lines.get(0).length() <= 60, lines.get(0));
    assertTrue(lines.get(0).contains("8l2.5"), lines.get(0));
    assertEquals(lines.get(0).indexOf("8l2.5"), lines.get(1).indexOf("^^^^^"));
  }

  @Test
  void aPlaceWithoutLinesHasNoNumber() {
    assertEquals("      | [1]", lines(80, 0, "[1]").get(0));
  }
}
