package dev.dusky.cli.command;

import dev.dusky.core.failure.Failure;
import java.util.List;

/**
 * The rejects named on the command line: one feed, or their numbers.
 *
 * @param feed the feed, or null
 * @param ids the numbers
 */
record Selected(String feed, List<Long> ids) {

  static Selected of(List<String> words) {
    boolean numbers = !words.isEmpty() && words.stream().allMatch(w -> w.matches("\\d{1,18}"));
    if (numbers) {
      return new Selected(null, words.stream().map(Long::parseLong).distinct().toList());
    }
    if (words.size() > 1) {
      throw Failure.usage("Give one feed, or the numbers of rejects, not both")
          .hint("Numbers are shown by 'dusky rejects --list 10'");
    }
    return new Selected(words.isEmpty() ? null : words.get(0), List.of());
  }
}
