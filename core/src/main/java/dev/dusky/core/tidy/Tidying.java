package dev.dusky.core.tidy;

import java.util.function.Consumer;

/** Keeps tables tidy: small data files, former states, and files that no table needs. */
public interface Tidying {

  /**
   * Tidies every table. One that cannot be does not stop the others.
   *
   * @param done receives what was done for each
   */
  void run(TidyOrder order, Consumer<Tidied> done);
}
