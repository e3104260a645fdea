package dev.dusky.cli.command;

import dev.dusky.app.reject.RejectFilter;
import picocli.CommandLine.Option;

/** The options that choose rejects. */
final class RejectOptions {

  @Option(names = "--column", paramLabel = "NAME", description = "With a problem in this column.")
  String column;

  @Option(names = "--code", paramLabel = "CODE", description = "With a problem of this code.")
  String code;

  @Option(names = "--file", paramLabel = "PATH", description = "Of this file of the depot.")
  String path;

  @Option(names = "--load", paramLabel = "ID", description = "Found by this load.")
  Long load;

  /** The filter that they make. */
  RejectFilter filter() {
    return RejectFilter.of(column, code, path, load);
  }
}
