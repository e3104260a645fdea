package dev.dusky.cli.command;

import dev.dusky.app.engine.InstallEngine;
import dev.dusky.cli.demo.Demo;
import dev.dusky.cli.demo.DemoFolder;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.standin.StandIn;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.CountDownLatch;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Runs the demo. */
@Command(
    name = "demo",
    description = "Runs an example with made-up data in a new folder.",
    footer = {
      "",
      "Examples:",
      "  dusky demo                                  a tour, in the new folder dusky-demo",
      "  dusky demo --all                            every feature",
      "  dusky demo --warehouse jdbc:postgresql://localhost/dairy --user loader \\",
      "      --password env:DAIRY_PASSWORD           on your server",
      "  dusky demo --tables lake                    tables in object storage",
      "  dusky demo --serve                          inside that folder: keep its depot running"
    })
final class DemoCommand extends DuskyCommand {

  @Parameters(
      arity = "0..1",
      paramLabel = "FOLDER",
      description = "The folder to create; default: dusky-demo.")
  Path folder;

  @Option(
      names = "--warehouse",
      paramLabel = "URL",
      description = "Use this warehouse instead of an embedded one.")
  String warehouse = "jdbc:h2:file:./warehouse";

  @Option(names = "--user", paramLabel = "NAME", description = "The warehouse's user.")
  String user;

  @Option(
      names = "--password",
      paramLabel = "REF",
      description = "The warehouse's password as env:NAME or file:PATH.")
  String password;

  @Option(
      names = "--tables",
      paramLabel = "WHERE",
      description = {
        "database, or lake: tables in object storage (here a folder) with",
        "their ledger in the warehouse. A lake needs the engine."
      })
  Tables tables = Tables.database;

  /** Where the tables of the demo are. */
  enum Tables {
    database,
    lake
  }

  @Option(names = "--all", description = "Run every step and show the whole output.")
  boolean all;

  @Option(names = "--serve", description = "Serve the depot of an earlier demo until stopped.")
  boolean serve;

  @Override
  int run(Screen screen) throws Exception {
    if (serve) {
      serveDepot(screen);
      return 0;
    }
    if (tables == Tables.lake && all) {
      throw Failure.usage("The demo over tables in object storage is the tour: leave --all away");
    }
    if (tables == Tables.lake && new InstallEngine().libraries().count() == 0) {
      throw Failure.configuration("The demo over tables in object storage needs the engine")
          .hint("Install its libraries, once, with {}", Invocation.of("engine", "--install"));
    }
    DemoFolder made = DemoFolder.create(folder == null ? free() : local(folder));
    new Demo(screen, made, args -> CommandRunner.commandLine().execute(args)).run(all, warehouse());
    return 0;
  }

  private String warehouse() {
    String place =
        tables == Tables.lake
            ? "  tables: file:./tables\n  ledger: %s\n  engine: local[2]\n"
            : "  url: %s\n";
    return "warehouse:\n"
        + place.formatted(warehouse)
        + (user == null ? "" : "  user: " + user + "\n")
        + (password == null ? "" : "  password: " + password + "\n");
  }

  /** The first of dusky-demo, dusky-demo-2, … that does not exist. */
  private Path free() {
    for (int i = 1; i < 1000; i++) {
      Path candidate = local(Path.of(i == 1 ? "dusky-demo" : "dusky-demo-" + i));
      if (!Files.exists(candidate)) {
        return candidate;
      }
    }
    throw Failure.usage("There are already a thousand demo folders here");
  }

  private void serveDepot(Screen screen) throws Exception {
    DemoFolder existing = DemoFolder.existing(folder == null ? local(Path.of(".")) : local(folder));
    try (StandIn store = Demo.serve(existing)) {
      screen.line("serving the demo's depot at " + store.endpoint() + "; stop with Ctrl-C");
      new CountDownLatch(1).await();
    }
  }
}
