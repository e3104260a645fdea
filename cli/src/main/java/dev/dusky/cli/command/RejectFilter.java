package dev.dusky.cli.command;

import dev.dusky.cli.config.Configuration;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Option;

/** The options that choose rejects. */
final class RejectFilter {

  @Option(names = "--column", paramLabel = "NAME", description = "With a problem in this column.")
  String column;

  @Option(names = "--code", paramLabel = "CODE", description = "With a problem of this code.")
  String code;

  @Option(names = "--file", paramLabel = "PATH", description = "Of this file of the depot.")
  String path;

  @Option(names = "--load", paramLabel = "ID", description = "Found by this load.")
  Long load;

  /** The choice; the feed must be declared. */
  RejectChoice choice(
      Configuration configuration, String feed, List<Long> ids, Optional<RejectState> state) {
    if (feed != null) {
      configuration.feed(feed);
    }
    return new RejectChoice(
        Optional.ofNullable(feed),
        Optional.ofNullable(column),
        Optional.ofNullable(code).map(RejectFilter::code),
        Optional.ofNullable(path),
        Optional.ofNullable(load),
        ids,
        state);
  }

  /** Whether nothing narrows the choice. */
  boolean isEmpty() {
    return column == null && code == null && path == null && load == null;
  }

  private static RejectCode code(String label) {
    for (RejectCode code : RejectCode.values()) {
      if (code.label().equals(label.toLowerCase(Locale.ROOT))) {
        return code;
      }
    }
    throw Failure.usage("There is no reject code '" + label + "'")
        .next(
            "It is one of "
                + Arrays.stream(RejectCode.values())
                    .map(RejectCode::label)
                    .collect(Collectors.joining(", ")));
  }
}
