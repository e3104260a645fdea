package dev.dusky.core.expect;

import java.util.List;
import java.util.Optional;

/**
 * The control information that a feed expects for its files.
 *
 * @param totals the columns whose sums are kept in the tally
 * @param trailer the record at the end of each file that states its control totals
 * @param sidecar the path of the file beside each file that states them, with facts in braces
 * @param volume what is expected of the files' volume, if anything is
 */
public record Expectations(
    List<String> totals,
    Optional<Trailer> trailer,
    Optional<String> sidecar,
    Optional<VolumePolicy> volume) {

  /** Nothing is expected and no sum is kept. */
  public static final Expectations NONE =
      new Expectations(List.of(), Optional.empty(), Optional.empty(), Optional.empty());

  public Expectations {
    totals = List.copyOf(totals);
  }

  /** The same with another expectation of the files' volume. */
  public Expectations withVolume(Optional<VolumePolicy> other) {
    return new Expectations(totals, trailer, sidecar, other);
  }
}
