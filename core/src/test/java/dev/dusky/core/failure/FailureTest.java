package dev.dusky.core.failure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;

import org.junit.jupiter.api.Test;

class FailureTest {

  @Test
  void aMessageSaysWhatWhyAndWhatNext() {
    Failure failure =
        Failure.depot("Depot yard is not there").because("no such directory").hint("Make it");
    assertEquals("Depot yard is not there: no such directory. Make it.", failure.getMessage());
    assertEquals("Depot yard is not there", failure.what());
    assertEquals("no such directory", failure.why());
    assertEquals("Make it", failure.hint().text());
  }

  @Test
  void aMessageMayBeShort() {
    assertEquals("It failed.", Failure.file("It failed").getMessage());
    assertEquals("It failed. Again?", Failure.file("It failed.").hint("Again?").getMessage());
  }

  @Test
  void theCauseIsKept() {
    Exception cause = new Exception("deep down");
    assertSame(cause, Failure.warehouse("It failed").from(cause).because("x").getCause());
  }

  @Test
  void commandsOfAHintAreWordedWhereItIsShown() {
    Failure failure =
        Failure.usage("There is no load 7")
            .hint("See {} and {}", Invocation.of("journal"), Invocation.of("files", "dockets"))
            .because("the ledger has none");
    assertEquals(
        "There is no load 7: the ledger has none. See 'dusky journal' and 'dusky files dockets'.",
        failure.getMessage());
    assertEquals(
        "There is no load 7: the ledger has none. See <journal> and <files+dockets>.",
        failure.message(run -> "<" + String.join("+", run.arguments()) + ">"));
  }

  @Test
  void bracesOfOthersAreNoCommands() {
    Hint hint = Hint.of("Write {} or run {}", Invocation.of("init")).map(String::toUpperCase);
    assertEquals("WRITE INIT OR RUN {}", hint.words(run -> String.join(" ", run.arguments())));
    assertThrows(IllegalArgumentException.class, () -> Hint.of("Run it", Invocation.of("load")));
  }

  @Test
  void argumentsCannotSteerATerminal() {
    assertFalse(Invocation.of("files", "a\u001b[31mb").toString().contains("\u001b"));
  }
}
