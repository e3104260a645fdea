package dev.dusky.core.type;

/** Reads hexadecimal digits. */
final class HexText {

  private HexText() {}

  /** The value of a hexadecimal digit, or -1. */
  static int digit(byte c) {
    return c >= '0' && c <= '9'
        ? c - '0'
        : c >= 'a' && c <= 'f' ? c - 'a' + 10 : c >= 'A' && c <= 'F' ? c - 'A' + 10 : -1;
  }
}
