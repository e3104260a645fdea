package dev.dusky.warehouses.script;

/** How a database makes a table of this transaction alone. */
@FunctionalInterface
public interface ScratchWords {

  /** The statement that makes a table of that name out of a query's rows. */
  String make(String name, String query);
}
