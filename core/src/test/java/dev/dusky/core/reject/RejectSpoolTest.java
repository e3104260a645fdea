package dev.dusky.core.reject;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class RejectSpoolTest {

  @Test
  void givesBackWhatWasAddedAsOftenAsAsked() {
    byte[] raw = {0, 1, (byte) 0xff, '\n'};
    List<Problem> problems =
        List.of(
            new Problem(RejectCode.BAD_DATE, "day", "ä\0", "not a day"),
            new Problem(RejectCode.BROKEN_QUOTE, "", "", "broken"));
    try (RejectSpool spool = new RejectSpool()) {
      for (int i = 0; i < 1000; i++) {
        spool.add(new Reject(i, i + 1, i * 10L, "", raw, i == 7, (int) i, raw, problems));
      }
      for (int round = 0; round < 2; round++) {
        List<Reject> back = new ArrayList<>();
        spool.forEach(back::add);
        assertEquals(1000, back.size());
        assertEquals(7, back.get(7).recordNumber());
        assertEquals(8, back.get(7).line());
        assertEquals(true, back.get(7).rawCut());
        assertArrayEquals(raw, back.get(999).raw());
        assertEquals(problems, back.get(999).problems());
      }
    }
  }

  @Test
  void withoutRejectsThereIsNothing() {
    try (RejectSpool spool = new RejectSpool()) {
      spool.forEach(
          reject -> {
            throw new AssertionError("there is none");
          });
      assertEquals(0, spool.count());
    }
  }
}
