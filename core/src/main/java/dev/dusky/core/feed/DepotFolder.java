package dev.dusky.core.feed;

/**
 * A folder in a depot.
 *
 * @param depot the depot's name
 * @param folder its path below the depot's root, ending with a slash, or an empty text for the root
 */
public record DepotFolder(String depot, String folder) {

  @Override
  public String toString() {
    return depot + ":" + folder;
  }
}
