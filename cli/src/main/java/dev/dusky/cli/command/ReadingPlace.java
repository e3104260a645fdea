package dev.dusky.cli.command;

import dev.dusky.core.failure.Failure;
import picocli.CommandLine.Option;

/** The option that says where files are read. */
final class ReadingPlace {

  @Option(
      names = "--on",
      paramLabel = "WHERE",
      description = "Where files are read: engine, on the machines of the warehouse's engine.")
  String on;

  /** Whether the engine's machines read them. */
  boolean engine() {
    if (on != null && !on.equals("engine")) {
      throw Failure.usage("--on cannot be '" + on + "'")
          .hint("Write --on engine, or leave it out to read the files on this machine");
    }
    return on != null;
  }
}
