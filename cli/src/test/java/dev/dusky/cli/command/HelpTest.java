package dev.dusky.cli.command;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayDeque;
import java.util.Deque;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;

class HelpTest {

  @Test
  void everyCommandShowsTwoExamplesOfItself() {
    Deque<CommandLine> commands =
        new ArrayDeque<>(CommandRunner.commandLine().getSubcommands().values());
    int seen = 0;
    while (!commands.isEmpty()) {
      CommandLine command = commands.remove();
      commands.addAll(command.getSubcommands().values());
      String help = command.getUsageMessage();
      String name = command.getCommandSpec().qualifiedName();
      assertTrue(help.contains("Examples:"), name);
      String examples = help.substring(help.indexOf("Examples:"));
      assertTrue(examples.split(name + "\\b").length >= 3, () -> name + "\n" + examples);
      seen++;
    }
    assertTrue(seen >= 19, () -> "commands are missing");
  }
}
