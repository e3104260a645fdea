package dev.dusky.cli.command;

import dev.dusky.app.engine.InstallEngine;
import dev.dusky.app.figures.Figures;
import dev.dusky.cli.process.Launcher;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.warehouse.EngineSettings;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Says whether the engine's libraries are on this machine, and fetches them. */
@Command(
    name = "engine",
    description = "Shows the engine's libraries on this machine, and installs them.",
    footer = {
      "",
      "Examples:",
      "  dusky engine                         what is installed, and where",
      "  dusky engine --install               fetch the libraries with Maven, about 270 MB",
      "",
      "The engine runs merges and SQL over tables in object storage. It is declared in",
      "the configuration: warehouse: { tables: …, ledger: …, engine: \"local[2]\" }"
    })
final class EngineCommand extends DuskyCommand {

  @Option(names = "--install", description = "Fetch the libraries, in place of older ones.")
  boolean install;

  @Override
  int run(Screen screen) {
    InstallEngine engine = new InstallEngine();
    if (install) {
      screen.remark("fetching the libraries; this takes some minutes, once");
    }
    InstallEngine.Libraries found = install ? engine.run() : engine.libraries();
    screen.object(
        Map.of(
            "folder", engine.folder().toString(),
            "version", EngineSettings.VERSION,
            "libraries", found.count(),
            "bytes", found.bytes()));
    if (found.count() == 0) {
      screen.line("no libraries of the engine in " + engine.folder());
      screen.line("install them with " + Launcher.typed(Invocation.of("engine", "--install")));
    } else {
      screen.line(
          "version %s: %,d libraries, %s in %s"
              .formatted(
                  EngineSettings.VERSION,
                  found.count(),
                  Figures.bytes(found.bytes()),
                  engine.folder()));
    }
    return found.count() == 0 ? 1 : 0;
  }
}
