package dev.dusky.core.bytes;

/**
 * Limits on the decompressed size of a stored file.
 *
 * @param ratio the maximum of uncompressed bytes for each stored byte, once {@code freeBytes} have
 *     passed
 * @param freeBytes uncompressed bytes that are always allowed
 */
public record ContentLimits(int ratio, long freeBytes) {

  /** 250 to 1 beyond the first 64 MiB. */
  public static final ContentLimits DEFAULT = new ContentLimits(250, 64L << 20);
}
