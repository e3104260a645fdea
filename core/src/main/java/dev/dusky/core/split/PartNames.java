package dev.dusky.core.split;

/**
 * The paths of a file's parts, in whose order they load: {@code daily/06.csv.gz} gives {@code
 * daily/06-0001.csv.zst} and so on. A file that stays whole keeps its name but for the compression.
 */
public final class PartNames {

  private static final String COMPRESSED = "(?i)\\.(gz|zst|bz2|xz|lz4|sz)$";

  private final String stem;
  private final String extension;
  private final int digits;

  /**
   * Names for the parts of a file.
   *
   * @param path the path that the whole file would get
   * @param unpacked whether its bytes are decompressed before it is cut
   * @param parts about how many parts there will be
   */
  public PartNames(String path, boolean unpacked, long parts, PartCompression compression) {
    String plain = unpacked ? path.replaceFirst(COMPRESSED, "") : path;
    int dot = plain.lastIndexOf('.');
    boolean named = dot > plain.lastIndexOf('/') + 1;
    this.stem = named ? plain.substring(0, dot) : plain;
    this.extension = (named ? plain.substring(dot) : "") + compression.extension();
    this.digits = Math.max(4, Long.toString(parts).length());
  }

  /** The path of a part, numbered from 1. */
  public String part(int number) {
    return stem + "-" + ("%0" + digits + "d").formatted(number) + extension;
  }

  /** The path of the file if it stays whole. */
  public String whole() {
    return stem + extension;
  }
}
