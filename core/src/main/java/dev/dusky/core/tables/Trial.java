package dev.dusky.core.tables;

/** A transaction that is never committed: its changes can be observed and are rolled back. */
public interface Trial extends Transaction, AutoCloseable {

  /** A point to go back to. */
  interface Mark {}

  /** Marks the current point. */
  Mark mark();

  /** Undoes what was written since the mark. */
  void undo(Mark mark);

  /** Undoes everything written so far. */
  void undoAll();

  @Override
  void close();
}
