package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine.Command;

/** Writes a starter configuration. */
@Command(
    name = "init",
    description = "Writes a commented starter dusky.yaml.",
    footer = {
      "",
      "Examples:",
      "  dusky init                          write dusky.yaml here",
      "  dusky init --config daily.yaml      write it under another name",
      "",
      "A file that exists is never overwritten."
    })
final class InitCommand extends DuskyCommand {

  @Override
  int run(Screen screen) throws IOException {
    Path file = configFile();
    if (Files.exists(file)) {
      throw Failure.usage(file + " exists already").next("Name another file with --config FILE");
    }
    try (InputStream in = InitCommand.class.getResourceAsStream("/dev/dusky/cli/starter.yaml")) {
      Files.copy(in, file);
    }
    screen.line("wrote " + file + "; edit it, then try: dusky probe");
    screen.object(Map.of("event", "written", "file", file.toString()));
    return 0;
  }
}
