package dev.dusky.cli.process;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

class ProcessTest {

  @Test
  void eachKindHasItsExitCode() {
    assertEquals(
        List.of(1, 2, 3, 4, 5, 6, 70, 130),
        Arrays.stream(Failure.Kind.values()).map(ExitCode::of).toList());
  }

  @Test
  void commandsAreTypedWithQuotesWhereAShellNeedsThem() {
    assertEquals(
        Launcher.command() + " sql \"select * from dusky.load_total\" --directory a/b-c",
        Launcher.typed(
            Invocation.of("sql", "select * from dusky.load_total", "--directory", "a/b-c")));
  }
}
