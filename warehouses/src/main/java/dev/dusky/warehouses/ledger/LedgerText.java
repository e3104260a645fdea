package dev.dusky.warehouses.ledger;

/** Text as the ledger's columns can keep it. */
public final class LedgerText {

  private LedgerText() {}

  /** At most that many characters, with NUL, which PostgreSQL refuses, shown as U+2400. */
  public static String fit(String text, int most) {
    String clean = text.replace('\0', '\u2400');
    return clean.length() <= most ? clean : clean.substring(0, most - 1) + "\u2026";
  }
}
