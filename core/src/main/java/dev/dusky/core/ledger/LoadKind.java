package dev.dusky.core.ledger;

import java.util.Locale;

/** The effect of a load entry on its landing table. */
public enum LoadKind {
  /** It posts files. */
  LOAD,
  /** It posts repaired records of files that are posted. */
  MEND,
  /** It takes posted rows out again. */
  REVERSE,
  /** It takes out rows that another load replaces. */
  REPLACE,
  /** It brings back rows that a reversed load had replaced. */
  RESTORE,
  /** It moves values from the leftovers into a column. */
  PROMOTE,
  /** It tidies a table, whose rows stay the same. */
  TIDY;

  /** The kind as shown and stored. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
