package dev.dusky.cli.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;

class ExcerptTest {

  private static final List<String> LINES = List.of("ab", "bc", "cd", "de", "ab");

  @Test
  void theWholeOutputHasNoNotes() {
    assertEquals(LINES, Excerpt.ALL.of(LINES));
    assertEquals(List.of(), Excerpt.ALL.of(List.of()));
  }

  @Test
  void otherLinesAreCounted() {
    assertEquals(List.of("ab", "bc", "  … 3 more lines"), Excerpt.first(2).of(LINES));
    assertEquals(
        List.of("ab", "bc", "cd", "ab", "  … 1 more line"), Excerpt.with("b", "cd").of(LINES));
    assertEquals(List.of("  … 5 more lines"), Excerpt.with("x").of(LINES));
  }
}
