package dev.dusky.core.failure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

class FailureTest {

  @Test
  void aMessageSaysWhatWhyAndWhatNext() {
    Failure failure =
        Failure.depot("Depot yard is not there").because("no such directory").next("Make it");
    assertEquals("Depot yard is not there: no such directory. Make it.", failure.getMessage());
    assertEquals("Depot yard is not there", failure.what());
    assertEquals("no such directory", failure.why());
    assertEquals("Make it", failure.next());
  }

  @Test
  void aMessageMayBeShort() {
    assertEquals("It failed.", Failure.file("It failed").getMessage());
    assertEquals("It failed. Again?", Failure.file("It failed.").next("Again?").getMessage());
  }

  @Test
  void theCauseIsKept() {
    Exception cause = new Exception("deep down");
    assertSame(cause, Failure.warehouse("It failed").from(cause).because("x").getCause());
  }

  @Test
  void eachKindHasItsExitCode() {
    assertEquals(
        List.of(1, 2, 3, 4, 5, 6, 70, 130),
        Arrays.stream(Failure.Kind.values()).map(Failure.Kind::exitCode).toList());
  }
}
