package dev.dusky.core.ledger;

/**
 * A tally in force: what a load posted, or mended, of a file.
 *
 * @param loadId the load
 * @param fileId the file
 * @param path its path
 * @param state {@code posted}, {@code mended} or {@code twin}
 * @param loaded how many rows it brought
 */
public record PostedRows(long loadId, long fileId, String path, String state, long loaded) {

  /** Whether the file brought no rows since its content was posted before. */
  public boolean twin() {
    return state.equals("twin");
  }

  /** Whether these are rows that were repaired later. */
  public boolean mended() {
    return state.equals("mended");
  }
}
