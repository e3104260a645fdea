package dev.dusky.depots.address;

import java.util.Map;
import java.util.Optional;

/**
 * How files are stored in a depot.
 *
 * @param partSize the size in bytes of the parts in which larger files are sent, if declared
 * @param encryption what the store encrypts files with, if it is not left to the bucket
 * @param storageClass the store's class of storage, if it is not the usual one
 * @param tags the tags that each file gets
 * @param requesterPays whether requests accept the costs of a bucket that somebody else owns
 */
public record Storing(
    Optional<Long> partSize,
    Optional<Encryption> encryption,
    Optional<String> storageClass,
    Map<String, String> tags,
    boolean requesterPays) {

  /** Everything as the store does it by itself. */
  public static final Storing USUAL =
      new Storing(Optional.empty(), Optional.empty(), Optional.empty(), Map.of(), false);

  /**
   * Encryption in the store.
   *
   * @param key the identifier of the key in the store's key service; the store's own key if empty
   */
  public record Encryption(Optional<String> key) {}
}
