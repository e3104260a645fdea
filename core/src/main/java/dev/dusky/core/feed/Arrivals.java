package dev.dusky.core.feed;

import java.util.Optional;

/**
 * How a feed handles arriving, repeated, changed and posted files.
 *
 * @param since the first day whose files it takes
 * @param ready when a file is whole
 * @param twins what it does about content that is posted under another name
 * @param revised what it does about a posted name with other content
 * @param afterwards what becomes of posted files
 */
public record Arrivals(
    Optional<Since> since,
    Readiness ready,
    TwinPolicy twins,
    RevisedPolicy revised,
    Afterwards afterwards) {

  /** Everything is taken as it comes, and nothing in the depot is touched. */
  public static final Arrivals DEFAULT =
      new Arrivals(
          Optional.empty(),
          Readiness.AT_ONCE,
          TwinPolicy.SKIP,
          RevisedPolicy.HALT,
          Afterwards.LEAVE);

  /** The same with another first day. */
  public Arrivals withSince(Since other) {
    return new Arrivals(Optional.of(other), ready, twins, revised, afterwards);
  }

  /** The same with another sign that a file is whole. */
  public Arrivals withReady(Readiness other) {
    return new Arrivals(since, other, twins, revised, afterwards);
  }

  /** The same with another policy for twins. */
  public Arrivals withTwins(TwinPolicy other) {
    return new Arrivals(since, ready, other, revised, afterwards);
  }

  /** The same with another policy for revised files. */
  public Arrivals withRevised(RevisedPolicy other) {
    return new Arrivals(since, ready, twins, other, afterwards);
  }

  /** The same with another fate of posted files. */
  public Arrivals withAfterwards(Afterwards other) {
    return new Arrivals(since, ready, twins, revised, other);
  }
}
