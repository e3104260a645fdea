package dev.dusky.cli.command;

import dev.dusky.app.config.SizeText;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.split.SplitPlan;
import java.util.OptionalLong;
import picocli.CommandLine.Option;

/** The options that say how large files are cut and compressed. */
final class SplitOptions {

  private static final long LEAST = 1_000_000;

  @Option(
      names = "--split",
      paramLabel = "SIZE",
      description =
          "Cut larger files into parts of about this size before compression, such as 256MB,"
              + " between records; each part gets the header.")
  String size;

  @Option(
      names = "--compress",
      paramLabel = "KIND",
      description = "Compress what is staged: zstd or gzip.")
  String compression;

  @Option(
      names = "--layout",
      paramLabel = "LAYOUT",
      description = "With --split: the layout of the files; default: that of their feed.")
  String layout;

  SplitPlan plan() {
    long bytes = size == null ? 0 : SizeText.option("--split", size);
    if (size != null && bytes < LEAST) {
      throw Failure.usage("--split cannot be '" + size + "'")
          .hint("Parts of 100 to 500 MB load well; the least is 1MB");
    }
    return new SplitPlan(
        size == null ? OptionalLong.empty() : OptionalLong.of(bytes),
        compression == null
            ? PartCompression.NONE
            : PartCompression.of(compression)
                .orElseThrow(
                    () ->
                        Failure.usage("--compress cannot be '" + compression + "'")
                            .hint("Write zstd, gzip or none")));
  }
}
