package dev.dusky.core.mend;

import dev.dusky.core.reject.StoredReject;

/**
 * A reject with the record that shall take its place.
 *
 * @param reject the reject
 * @param preamble what must precede the record to read it
 * @param raw the record's bytes
 */
public record Repair(StoredReject reject, byte[] preamble, byte[] raw) {

  /** The reject read again as it is. */
  public static Repair asItIs(StoredReject reject) {
    return new Repair(reject, reject.preamble(), reject.latest());
  }
}
