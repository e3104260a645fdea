package dev.dusky.cli.render;

/**
 * A file that is being loaded.
 *
 * @param path its path
 * @param bytes its stored size
 * @param done the stored bytes read so far
 * @param rows the records read so far
 */
public record FileInProgress(String path, long bytes, long done, long rows) {

  /** The share that is read, between 0 and 1. */
  public double share() {
    return bytes == 0 ? 0 : Math.min(1, (double) done / bytes);
  }
}
