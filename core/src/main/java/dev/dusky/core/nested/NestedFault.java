package dev.dusky.core.nested;

import dev.dusky.core.reject.RejectCode;

/** What is wrong with a JSON value that has a declared form. */
public final class NestedFault extends Exception {

  private static final long serialVersionUID = 1;

  private final RejectCode code;
  private final String value;

  /**
   * A fault.
   *
   * @param value the value at fault; empty if one is missing
   * @param message what is wrong with it; a sentence that begins with the value, unless it is
   *     missing
   */
  NestedFault(RejectCode code, String value, String message) {
    super(message, null, false, false); // one for each reject, so without a stack trace
    this.code = code;
    this.value = value;
  }

  /** The reason of the reject. */
  public RejectCode code() {
    return code;
  }

  /** The value at fault. */
  public String value() {
    return value;
  }
}
