package dev.dusky.cli.command;

import dev.dusky.app.config.Starter;
import dev.dusky.cli.render.Screen;
import java.io.IOException;
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
    Starter.write(file);
    screen.line("wrote " + file + "; edit it, then try: dusky probe");
    screen.object(Map.of("event", "written", "file", file.toString()));
    return 0;
  }
}
