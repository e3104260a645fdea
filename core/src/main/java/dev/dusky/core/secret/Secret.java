package dev.dusky.core.secret;

import java.util.function.Supplier;

/** A secret that is fetched only when it is needed and that never shows in any text. */
public final class Secret {

  private final Supplier<String> source;

  /**
   * A secret with its source.
   *
   * @param source gives the secret, or throws a {@link dev.dusky.core.failure.Failure} that says
   *     why it cannot be had
   */
  public Secret(Supplier<String> source) {
    this.source = source;
  }

  /** The secret itself, to be passed on immediately and never stored. */
  public String reveal() {
    return source.get();
  }

  @Override
  public String toString() {
    return "(secret)";
  }
}
