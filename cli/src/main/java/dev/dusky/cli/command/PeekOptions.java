package dev.dusky.cli.command;

import dev.dusky.app.preview.PeekRequest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.preview.PreviewMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** What to read of which file. */
final class PeekOptions {

  private static final int MOST = 100_000;

  @Parameters(index = "0", paramLabel = "FEED|DEPOT:PATH", description = "A feed, or a file.")
  String target;

  @Parameters(
      index = "1",
      arity = "0..1",
      paramLabel = "PATH",
      description = "The feed's file to look at; its first one if not given.")
  String path;

  @Option(
      names = {"-n", "--records"},
      paramLabel = "N",
      description = "How many records; 10 if not given.")
  int most = 10;

  @Option(names = "--last", description = "The last records instead of the first.")
  boolean last;

  @Option(names = "--random", description = "Records at random from all of the file.")
  boolean random;

  @Option(
      names = "--seed",
      paramLabel = "SEED",
      description = "Makes --random choose the same records each time.")
  long seed = System.nanoTime();

  @Option(
      names = "--layout",
      paramLabel = "LAYOUT",
      description = "Read the file with this layout of the configuration instead.")
  String layoutName;

  @Option(
      names = "--with",
      paramLabel = "KEY=VALUE",
      description = "Set a key of the layout, such as delimiter=; or header=false; repeatable.")
  List<String> with = new ArrayList<>();

  @Option(
      names = "--where",
      paramLabel = "CONDITION",
      description = "Only records for which this SQL condition holds.")
  String where;

  @Option(names = "--count", description = "Count the records of the whole file instead.")
  boolean count;

  /** The request that they make. */
  PeekRequest request() {
    if (most < 1 || most > MOST) {
      throw Failure.usage("--records must be from 1 to 100 000");
    }
    if (last && random) {
      throw Failure.usage("--last and --random exclude each other");
    }
    return new PeekRequest(
        target,
        Optional.ofNullable(path),
        mode(),
        most,
        seed,
        Optional.ofNullable(layoutName),
        with,
        Optional.ofNullable(where));
  }

  private PreviewMode mode() {
    if (count) {
      return PreviewMode.COUNT;
    }
    if (random) {
      return PreviewMode.RANDOM;
    }
    return last ? PreviewMode.LAST : PreviewMode.FIRST;
  }
}
