package dev.dusky.core.table;

import java.util.List;

/** The columns that say where a landed row came from. */
public final class Provenance {

  /** The load that brought the row. */
  public static final String LOAD = "dusky_load";

  /** The ledger's file entry. */
  public static final String FILE = "dusky_file";

  /** The record's number in the file. */
  public static final String ROW = "dusky_row";

  /** All three, in the order in which they follow a table's columns. */
  public static final List<String> COLUMNS = List.of(LOAD, FILE, ROW);

  private Provenance() {}
}
