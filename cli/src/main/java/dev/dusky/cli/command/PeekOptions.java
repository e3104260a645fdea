package dev.dusky.cli.command;

import dev.dusky.app.preview.PeekRequest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.preview.PreviewMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** The options that choose a file and its records. */
final class PeekOptions {

  private static final int MOST = 100_000;

  @Parameters(index = "0", paramLabel = "FEED|DEPOT:PATH", description = "A feed, or a file.")
  String target;

  @Parameters(
      index = "1",
      arity = "0..1",
      paramLabel = "PATH",
      description = "A file of the feed; default: its first one.")
  String path;

  @Option(
      names = {"-n", "--records"},
      paramLabel = "N",
      description = "Maximum number of records; default: 10.")
  int most = 10;

  @Option(names = "--last", description = "The last records instead of the first.")
  boolean last;

  @Option(names = "--random", description = "Random records from the whole file.")
  boolean random;

  @Option(
      names = "--seed",
      paramLabel = "SEED",
      description = "The seed of --random; the same seed gives the same records.")
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
      description = "Only records for which this SQL condition is true.")
  String where;

  @Option(names = "--count", description = "Count the records of the whole file instead.")
  boolean count;

  /** The request that they make. */
  PeekRequest request() {
    if (most < 1 || most > MOST) {
      throw Failure.usage("--records must be from 1 to 100 000");
    }
    if (last && random) {
      throw Failure.usage("--last and --random cannot be combined");
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
