package dev.dusky.testkit;

/** A ledger and tables in memory, which commit together. */
public final class MemoryWarehouse {

  private final Object monitor = new Object();
  private final Faults faults = new Faults();
  private final MemoryLedger ledger = new MemoryLedger(monitor, faults);
  private final MemoryTables tables = new MemoryTables(monitor, faults);

  /** The ledger. */
  public MemoryLedger ledger() {
    return ledger;
  }

  /** The tables. */
  public MemoryTables tables() {
    return tables;
  }

  /** Makes calls fail. */
  public Faults faults() {
    return faults;
  }
}
