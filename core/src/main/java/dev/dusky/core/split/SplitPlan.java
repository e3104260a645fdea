package dev.dusky.core.split;

import java.util.OptionalLong;

/**
 * Into what local files are made before they are staged.
 *
 * @param bytes about how many uncompressed bytes a part has; none if files stay whole
 * @param compression how parts and whole files are compressed
 */
public record SplitPlan(OptionalLong bytes, PartCompression compression) {

  /** Files are staged as they are. */
  public static final SplitPlan NONE = new SplitPlan(OptionalLong.empty(), PartCompression.NONE);

  /** Whether files are staged as they are. */
  public boolean none() {
    return bytes.isEmpty() && compression == PartCompression.NONE;
  }

  /** Whether a file of that size is cut. */
  public boolean cuts(long size) {
    return bytes.isPresent() && size > bytes.getAsLong();
  }
}
