package dev.dusky.core.ledger;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.reject.RejectState;
import java.util.EnumSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class StatesTest {

  @ParameterizedTest
  @EnumSource(FileState.class)
  void labelsLeadBackToTheirState(FileState state) {
    assertEquals(state, FileState.of(state.label()));
  }

  @Test
  void aPostedFileIsNeverPostedAgain() {
    assertFalse(FileState.POSTED.next().contains(FileState.POSTED));
    assertEquals(
        EnumSet.of(FileState.REVERSED, FileState.REPLACED, FileState.MISSING),
        FileState.POSTED.next());
  }

  @Test
  void whatIsNotSettledCanStillBePosted() {
    for (FileState state : FileState.values()) {
      if (!state.settled()) {
        assertTrue(state.next().contains(FileState.POSTED), state::label);
      }
    }
  }

  @Test
  void aLoadEndsOnce() {
    assertTrue(LoadState.DONE.mayFollow(LoadState.RUNNING));
    assertFalse(LoadState.DONE.mayFollow(LoadState.INTERRUPTED));
    assertFalse(LoadState.RUNNING.mayFollow(LoadState.RUNNING));
    assertEquals(LoadState.INTERRUPTED, LoadState.of("interrupted"));
  }

  @Test
  void aRejectIsSettledOnce() {
    assertTrue(RejectState.MENDED.mayFollow(RejectState.OPEN));
    assertFalse(RejectState.WAIVED.mayFollow(RejectState.MENDED));
    assertFalse(RejectState.OPEN.mayFollow(RejectState.OPEN));
    assertEquals("waived", RejectState.WAIVED.label());
  }
}
