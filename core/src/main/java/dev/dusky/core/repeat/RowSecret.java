package dev.dusky.core.repeat;

import java.security.SecureRandom;

/**
 * The secret of row hashes, 128 bits, which leaves a process only for those that work for it.
 *
 * @param first its first half
 * @param second its second half
 */
public record RowSecret(long first, long second) {

  /** A new one that nobody knows. */
  static RowSecret make() {
    SecureRandom random = new SecureRandom();
    return new RowSecret(random.nextLong(), random.nextLong());
  }

  @Override
  public String toString() {
    return "a secret";
  }
}
