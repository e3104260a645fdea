package dev.dusky.core.balance;

import java.util.List;

/**
 * The chains of versions in the target of a merge that keeps a history.
 *
 * @param lengths how many keys have how many versions, the fewest versions first
 */
public record Chains(List<Length> lengths) {

  /**
   * Keys with the same number of versions.
   *
   * @param versions how many versions each of them has
   * @param keys how many keys
   * @param open how many of their versions have no end
   */
  public record Length(long versions, long keys, long open) {}

  public Chains {
    lengths = List.copyOf(lengths);
  }

  /** The number of keys. */
  public long keys() {
    return lengths.stream().mapToLong(Length::keys).sum();
  }

  /** The number of versions of all keys. */
  public long versions() {
    return lengths.stream().mapToLong(length -> length.versions() * length.keys()).sum();
  }

  /** The number of versions without an end. */
  public long open() {
    return lengths.stream().mapToLong(Length::open).sum();
  }

  /** The number of versions of the key that has most; 0 without keys. */
  public long longest() {
    return lengths.isEmpty() ? 0 : lengths.get(lengths.size() - 1).versions();
  }
}
