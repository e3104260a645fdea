package dev.dusky.core.layout;

/** The character encodings a text layout may declare. A byte order mark is always recognised. */
public enum Encoding {
  /** UTF-8, the default. */
  UTF_8("utf-8"),
  /** UTF-16 by its byte order mark, big-endian without one. */
  UTF_16("utf-16"),
  /** UTF-16, low byte first. */
  UTF_16LE("utf-16le"),
  /** UTF-16, high byte first. */
  UTF_16BE("utf-16be"),
  /** ISO-8859-1. */
  ISO_8859_1("iso-8859-1"),
  /** windows-1252. */
  WINDOWS_1252("windows-1252");

  private final String label;

  Encoding(String label) {
    this.label = label;
  }

  /** The name used in the configuration and in messages. */
  public String label() {
    return label;
  }
}
