package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Manifest;
import java.util.List;
import java.util.Optional;

/**
 * The files that a load processes, if not all waiting ones.
 *
 * @param files the files, in the order of their paths
 * @param manifest what is stated of them, if they come from a manifest
 * @param again whether they are loaded although they may be posted; their rows are then replaced
 */
public record Selection(List<StagedFile> files, Optional<Manifest> manifest, boolean again) {

  public Selection {
    files = List.copyOf(files);
  }

  /** Files that notifications named. */
  public static Selection arrived(List<StagedFile> files) {
    return new Selection(files, Optional.empty(), false);
  }

  /** One file, to be loaded again on purpose. */
  public static Selection again(StagedFile file) {
    return new Selection(List.of(file), Optional.empty(), true);
  }
}
